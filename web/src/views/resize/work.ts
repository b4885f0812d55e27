import type { WorkView } from '../works'

export const RESIZE: WorkView = {
  key: 'resize',
  at: 'resize',
  nav: 'Resize',
  shortcut: 'r',
  says: 'a ring to resize',
  load: () => import('./ResizeView.svelte'),
  drawn: {
    stations: ['measure', 'cut', 'form', 'join'],
    load: () => import('./CardDrawing.svelte'),
  },
}
