package book

func (a Actor) NeedOwner() error {
	if a.Role == Owner {
		return nil
	}
	return (Actor{}).Need(Setup)
}
