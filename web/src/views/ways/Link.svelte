<script lang="ts">
  /** A link that works once, shown this once. */
  let { link, whose }: { link: string; whose: string } = $props()
  let copied = $state(false)
  async function copy() {
    try {
      await navigator.clipboard.writeText(link)
      copied = true
    } catch {
      copied = false
    }
  }
</script>

<p class="mt-3">
  <input
    class="word w-full max-w-[46rem]"
    readonly
    value={link}
    aria-label={`Link for ${whose}`}
    data-testid="link"
    onfocus={(event) => event.currentTarget.select()}
  />
</p>
<p class="mt-1 text-body">
  <button type="button" class="quiet" onclick={() => void copy()}
    >{copied ? 'copied' : 'copy it'}</button
  >
  <span class="text-soft ml-3"
    >{whose} sets a password with it: it is shown this once, works once, for three days.</span
  >
</p>
