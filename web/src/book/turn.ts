/** Does one thing at a time over all windows of this browser by the name; each does its own where the browser can't say which. */
export const inTurn = (name: string, task: () => Promise<void>) =>
  'locks' in navigator && name ? navigator.locks.request(name, task) : task()
