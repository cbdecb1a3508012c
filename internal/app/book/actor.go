package book

// NeedOwner is an error where somebody who is not the owner does what only an owner may.
func (a Actor) NeedOwner() error {
	if a.Role == Owner {
		return nil
	}
	return (Actor{}).Need(Setup)
}
