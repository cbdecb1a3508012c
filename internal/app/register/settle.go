package register

// Place is where a line or hours are booked.
type Place struct {
	JobID      int64 `json:"jobId"`
	PhaseID    int64 `json:"phaseId,omitempty"`
	CostCodeID int64 `json:"costCodeId,omitempty"`
}
