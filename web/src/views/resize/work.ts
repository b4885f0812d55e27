import type { WorkView } from '../works'
import ResizeView from './ResizeView.svelte'

export const RESIZE: WorkView = {
  key: 'resize',
  at: 'resize',
  nav: 'Resize',
  shortcut: 'r',
  says: 'a ring to resize',
  sheet: ResizeView,
  drawn: {
    stations: ['measure', 'cut', 'form', 'join'],
    load: () => import('./CardDrawing.svelte'),
  },
}
