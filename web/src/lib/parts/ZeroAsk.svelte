<script lang="ts">
  import { caliper } from '$lib/caliper.svelte'

  let { ondone }: { ondone: () => void } = $props()
  let text = $state('')

  function keep() {
    caliper.keepZero(text)
    ondone()
  }
</script>

<label class="block text-lead">
  Close the jaws and read the caliper first: it shows
  <input
    class="word"
    data-measure="zero"
    bind:value={text}
    placeholder="0.00"
    aria-label="Caliper closed"
    autocomplete="off"
    maxlength="20"
    onkeydown={(event) => {
      if (event.key !== 'Enter') return
      event.preventDefault()
      keep()
    }}
  />
  <span class="text-soft">Asked once a session; it is taken off every length.</span>
</label>
