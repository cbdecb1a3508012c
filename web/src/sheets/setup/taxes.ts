/** What a tax code says of what it is put on. */
export const taxKinds = [
  ['standard', 'taxed'],
  ['zero', 'zero rated'],
  ['exempt', 'exempt'],
  ['reverse_charge', 'reverse charge'],
] as const
/** What kind of tax a component is, on e-invoices. */
export const taxSchemes = [
  ['', "the country's"],
  ['STT', 'of a state or province'],
  ['LOC', 'local'],
  ['GST', 'on goods and services'],
  ['VAT', 'on value added'],
  ['OTH', 'another'],
] as const
export const taxKindNames: Record<string, string> = Object.fromEntries(taxKinds)
