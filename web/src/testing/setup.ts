/** Where a test has no book, nobody answers. */
globalThis.fetch = () => new Promise(() => {})
