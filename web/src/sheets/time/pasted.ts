/** Rows that were pasted into a crew sheet and name workers and jobs: they are read in the import, where each can be seen. */
let waiting = ''
export const pastedLines = {
  put: (text: string) => (waiting = text),
  take() {
    const text = waiting
    waiting = ''
    return text
  },
}
