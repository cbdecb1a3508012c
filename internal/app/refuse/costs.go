package refuse

func OrNotFound(err error, what string) error {
	if err != nil {
		return err
	}
	return NotFound(what)
}
