/** That the page opens without its server, and that a new version is offered and never forced. */
import { Workbox } from 'workbox-window'

const LOOK_MS = 3_600_000

class Offline {
  /** A browser lets a page keep itself over HTTPS, or on the machine itself. */
  readonly able = window.isSecureContext && 'serviceWorker' in navigator
  /** A newer version is here and waits to be taken. */
  newer = $state(false)
  #taken = false
  #worker: Workbox | undefined

  start() {
    if (!this.able || !import.meta.env.PROD) return
    const worker = new Workbox('/sw.js', { scope: '/' })
    this.#worker = worker
    worker.addEventListener('waiting', () => (this.newer = true))
    worker.addEventListener('controlling', (event) => {
      if (this.#taken) location.reload()
      else if (event.isUpdate || event.isExternal) this.newer = true // taken in another tab
    })
    worker.register().catch(() => undefined)
    setInterval(() => void worker.update().catch(() => undefined), LOOK_MS)
  }

  /** Take the newer version: the page is loaded anew. What is typed is kept on the device, as at any reload. */
  async take() {
    this.#taken = true
    const held = await navigator.serviceWorker.getRegistration('/')
    if (held?.waiting) this.#worker?.messageSkipWaiting()
    else location.reload()
  }
}
export const offline = new Offline()
