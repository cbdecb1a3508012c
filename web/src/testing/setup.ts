/** Where a test has no book, nobody answers. */
globalThis.fetch = () => new Promise(() => {})

/** Locks of the browser, given in turn within a window: those of Node wait for other threads. */
let turn: Promise<unknown> = Promise.resolve()
Object.defineProperty(navigator, 'locks', {
  configurable: true,
  value: { request: (_: string, work: () => Promise<unknown>) => (turn = turn.then(work)) },
})
