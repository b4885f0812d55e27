/** The service worker: the application's own files, so that its page opens without the server. No answer is in it.
 *
 * A new version waits until the page asks for it.
 */
import {
  cleanupOutdatedCaches,
  createHandlerBoundToURL,
  precacheAndRoute,
} from 'workbox-precaching'
import { NavigationRoute, registerRoute } from 'workbox-routing'

/** Every file of this version, put in when it is built. */
declare const FILES: { url: string; revision: string | null }[]
interface Worker {
  skipWaiting(): Promise<void>
  addEventListener(
    kind: 'message',
    heard: (event: MessageEvent<{ type?: string } | null>) => void,
  ): void
}
const worker = self as unknown as Worker

cleanupOutdatedCaches()
precacheAndRoute(FILES)
registerRoute(
  new NavigationRoute(createHandlerBoundToURL('/'), {
    denylist: [/^\/(?:api|static|calendar|health|ready)(?:\/|$)/, /^\/sw\.js$/],
  }),
)
worker.addEventListener('message', (event) => {
  if (event.data?.type === 'SKIP_WAITING') void worker.skipWaiting()
})
