/** What a wage is paid by. */
export const wagePer = [
  ['hour', 'by the hour'],
  ['week', 'by the week'],
] as const
