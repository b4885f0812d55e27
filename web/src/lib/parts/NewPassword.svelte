<script lang="ts" module>
  import type { Mistake } from '$lib/api/client'

  /** What is wrong with a password that was typed twice, before anybody is asked. */
  export function notTwice(password: string, again: string): Mistake[] {
    if (password === again) return []
    return [{ field: 'again', message: 'The two are not the same.', hint: 'Type them anew.' }]
  }
</script>

<script lang="ts">
  import Word from './Word.svelte'

  interface Props {
    password: string
    again: string
    field: string
    mistakes: Mistake[]
  }
  let { password = $bindable(), again = $bindable(), field, mistakes }: Props = $props()
</script>

<Word
  bind:value={password}
  label="New password"
  {field}
  type="password"
  placeholder="eight letters or more"
  {mistakes}
/>, once more <Word
  bind:value={again}
  label="New password once more"
  field="again"
  type="password"
  placeholder="the same"
  {mistakes}
/>
