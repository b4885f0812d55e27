import type { WorkView } from '../works'

export const PRACTICE: WorkView = {
  key: 'practice',
  at: 'practice',
  shortcut: 'p',
  says: 'a practice, in rounds',
  load: () => import('./PracticeView.svelte'),
  soFar: { load: () => import('./SoFar.svelte') },
}
