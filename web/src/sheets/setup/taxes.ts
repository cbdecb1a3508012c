/** What a tax code says of what it is put on. */
export const taxKinds = [
  ['standard', 'taxed'],
  ['zero', 'zero rated'],
  ['exempt', 'exempt'],
  ['reverse_charge', 'reverse charge'],
] as const
export const taxKindNames: Record<string, string> = Object.fromEntries(taxKinds)
