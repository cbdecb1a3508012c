package register

func CrewName(crew string) string {
	if crew == "" {
		return "Workers without a crew"
	}
	return crew
}
