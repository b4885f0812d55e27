<script lang="ts">
  import { isAway, type Job, type Mistake } from '$lib/api/client'
  import { clock } from '$lib/clock.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import { toSend } from '$lib/picture'
  import { whenWords } from '$lib/text'
  import { session } from '$lib/session.svelte'
  import type { Card } from './card.svelte'

  let { card, job }: { card: Card; job: Job } = $props()
  const SIDES = [
    { key: 'before', title: 'Before' },
    { key: 'after', title: 'After' },
  ] as const
  let mistakes = $state.raw<Mistake[]>([])
  let busy = $state(false)
  const name = $derived(job.customer_name || job.title)
  const of = (side: string) => job.photos.filter((one) => one.side === side)

  /** Photographs, one or many: each is drawn small enough and goes to the outbox; nobody waits for the server. */
  async function take(side: string, input: HTMLInputElement) {
    const files = [...(input.files ?? [])]
    busy = true
    mistakes = []
    for (const file of files) {
      const image = await toSend(file)
      if (image === null)
        mistakes = [
          ...mistakes,
          {
            field: 'image',
            message: `This device cannot read ${file.name}, and it is too large to send.`,
            hint: 'Choose a JPEG, PNG or WebP picture.',
          },
        ]
      else void send(side, image)
    }
    input.value = ''
    busy = false
  }

  async function send(side: string, image: string) {
    const answer = await card.send({
      method: 'POST',
      path: `/api/jobs/${job.id}/photos`,
      body: { side, image },
      says: `a photograph of ${name}, ${side}`,
    })
    card.mistakes = []
    if (!answer.problem || isAway(answer.problem.status)) return
    const said = mistakes.map((one) => one.message)
    mistakes = [...mistakes, ...answer.problem.errors.filter((one) => !said.includes(one.message))]
  }

  async function remove(id: number) {
    const answer = await card.send({
      method: 'DELETE',
      path: `/api/jobs/${job.id}/photos/${id}`,
      body: null,
      says: `a photograph of ${name} taken away`,
    })
    mistakes = answer.problem?.errors ?? []
  }
</script>

<section aria-label="Photographs" class="mt-8" data-testid="photos">
  <div class="sides">
    {#each SIDES as side (side.key)}
      <div>
        <p class="text-body">
          <span class="font-medium">{side.title}</span>
          <label class="quiet ml-3 cursor-pointer"
            >take or choose a photograph<input
              type="file"
              accept="image/jpeg,image/png,image/webp"
              multiple
              class="sr-only"
              aria-label={`Photograph, ${side.key}`}
              disabled={busy}
              onchange={(event) => void take(side.key, event.currentTarget)}
            /></label
          >
        </p>
        {#each of(side.key) as photo (photo.id)}
          <figure class="mt-2">
            <a href={`/api/jobs/${job.id}/photos/${photo.id}`} target="_blank"
              ><img
                src={`/api/jobs/${job.id}/photos/${photo.id}`}
                width={photo.width}
                height={photo.height}
                alt={`The ring ${side.key} the work, taken ${whenWords(photo.at, clock.now)}`}
              /></a
            >
            <figcaption class="text-soft text-small">
              {whenWords(photo.at, clock.now)}{photo.by ? `, ${photo.by}` : ''}
              {#if session.may('correct')}<button
                  type="button"
                  class="quiet ml-2"
                  onclick={() => void remove(photo.id)}>take it away</button
                >{/if}
            </figcaption>
          </figure>
        {/each}
      </div>
    {/each}
  </div>
  <Mistakes {mistakes} />
</section>

<style>
  .sides {
    display: grid;
    grid-template-columns: repeat(2, minmax(0, 1fr));
    gap: 1rem 2rem;
    max-width: 52rem;
  }
  img {
    width: 100%;
    height: auto;
    max-height: 22rem;
    object-fit: contain;
    object-position: left top;
  }
  label:focus-within {
    outline: 2px solid var(--color-primary);
    outline-offset: 2px;
  }
  @media (max-width: 560px) {
    .sides {
      grid-template-columns: 1fr;
    }
  }
</style>
