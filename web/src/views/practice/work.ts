import type { WorkView } from '../works'
import PracticeView from './PracticeView.svelte'

export const PRACTICE: WorkView = {
  key: 'practice',
  at: 'practice',
  shortcut: 'p',
  says: 'a practice, in rounds',
  sheet: PracticeView,
  soFar: { load: () => import('./SoFar.svelte') },
}
