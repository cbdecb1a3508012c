package pricelist

// MostLines bounds a paper.
const MostLines = 1000
