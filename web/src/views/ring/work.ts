import type { WorkView } from '../works'
import RingView from './RingView.svelte'

export const MAKE: WorkView = {
  key: 'make',
  at: 'ring',
  nav: 'New ring',
  shortcut: 'n',
  says: 'a new ring',
  sheet: RingView,
}
