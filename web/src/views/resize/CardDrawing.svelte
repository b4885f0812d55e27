<script lang="ts">
  import type { ResizePlan } from '$lib/api/client'
  import type { Drawn } from '../works'
  import BeforeAfter from './BeforeAfter.svelte'

  /** Before and after, beside a step of the card. */
  let { plan, stale, width, height }: Drawn = $props()
</script>

<BeforeAfter plan={plan as ResizePlan} {stale} {width} {height} />
