/** Those who work where there is no connection now and then. */
const onSite = ['worker', 'foreman']

/** Has the window open without a connection too, where the browser can: it is kept on the phone of somebody on site. */
export async function keepForOffline(role: string) {
  if (!onSite.includes(role) || !('serviceWorker' in navigator)) return
  await navigator.serviceWorker.register('/offline.js')
  const { active } = await navigator.serviceWorker.ready
  const loaded = performance.getEntriesByType('resource').map((e) => new URL(e.name).pathname)
  const keep = ['/', location.pathname, ...new Set(loaded.filter((path) => path.startsWith('/assets/')))]
  active?.postMessage({ keep })
}

/** Nothing of somebody who signs out stays on the phone. */
export async function forgetOffline() {
  if (!('serviceWorker' in navigator)) return
  const here = await navigator.serviceWorker.getRegistration()
  here?.active?.postMessage({ forget: true })
}
