/** Plain history: one path, one small store. */

class Router {
  path = $state(location.pathname)

  constructor() {
    window.addEventListener('popstate', () => (this.path = location.pathname))
    document.addEventListener('click', (event) => this.follow(event))
  }

  /** The parts of the path: /job/7 is ['job', '7']. */
  get parts(): string[] {
    return this.path.split('/').filter(Boolean)
  }

  go(path: string) {
    if (path === this.path) return
    history.pushState(null, '', path)
    this.path = location.pathname // what stands behind a # is the screen's own
    window.scrollTo(0, 0)
  }

  /** What is looked at on this screen, so that a reload finds it again: it stands behind the path. */
  get mark(): string {
    return location.hash.slice(1)
  }

  set mark(name: string) {
    history.replaceState(null, '', `#${encodeURIComponent(name)}`)
  }

  private follow(event: MouseEvent) {
    if (event.defaultPrevented || event.button || event.metaKey || event.ctrlKey || event.shiftKey)
      return
    const link = (event.target as Element).closest('a')
    const href = link?.getAttribute('href')
    if (!link || !href?.startsWith('/') || href.startsWith('/api/') || link.hasAttribute('target'))
      return
    event.preventDefault()
    this.go(href)
  }
}

export const router = new Router()
