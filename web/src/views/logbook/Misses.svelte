<script lang="ts">
  import type { Schemas } from '$lib/api/client'
  import { length } from '$lib/length.svelte'
  import { dayWords } from '$lib/text'
  import Dots from './Dots.svelte'

  interface Props {
    dots: Schemas['Dot'][]
    group: Schemas['LearntGroup']
  }
  let { dots, group }: Props = $props()
  const known = $derived(group.says !== '')
  const drawn = $derived(
    dots.map((dot) => ({
      at: dot.at,
      z_mm: dot.z_mm,
      href: `/logbook/${dot.job_id}`,
      apart: dot.aside ? `${dot.number}, why?` : '',
      says: `ring ${dot.number}, ${dayWords(dot.at.slice(0, 10))}: ${length(Math.abs(dot.z_mm))} ${dot.z_mm < 0 ? 'small' : 'large'}`,
    })),
  )
</script>

<Dots
  dots={drawn}
  label={`What ${dots.length} ${dots.length === 1 ? 'ring' : 'rings'} missed round, ${group.group}`}
  words={['large', 'neutral line', 'small']}
  band={known ? [group.low_mm, group.high_mm] : null}
  mean={known ? group.mean_mm : null}
  dashed={group.in_force_mm}
/>
