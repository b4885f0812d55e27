<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'
  import Dots from './Dots.svelte'

  let { cuts, sd }: { cuts: Schemas['CutDot'][]; sd: number } = $props()
  const drawn = $derived(cuts.map((cut) => ({ ...cut, says: length(cut.z_mm) })))
</script>

<Dots
  dots={drawn}
  label={`My last ${cuts.length} cuts: two in three within ${length(sd)} of the line`}
  words={['long', 'the line', 'short']}
  band={[-sd, sd]}
  height={110}
/>
