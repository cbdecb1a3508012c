import { beforeEach, vi } from 'vitest'

/** Where a test has no book, nobody answers. */
beforeEach(() => {
  vi.stubGlobal('fetch', () => new Promise(() => {}))
})
