const regions = new Intl.DisplayNames(undefined, { type: 'region', fallback: 'none' })
const letters = [...'ABCDEFGHIJKLMNOPQRSTUVWXYZ']
const noCountry = ['EU', 'EZ', 'UN', 'QO', 'XA', 'XB', 'ZZ', 'AC', 'CP', 'CQ', 'DG', 'EA', 'IC', 'TA']
/** The countries that the browser has a name for, in its language. */
export const countries = [
  ['', 'not said'] as const,
  ...letters
    .flatMap((a) => letters.map((b) => a + b))
    .filter((code) => !noCountry.includes(code) && regions.of(code))
    .map((code) => [code, regions.of(code)!] as const)
    .sort((a, b) => a[1].localeCompare(b[1])),
]
