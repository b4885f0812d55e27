<script lang="ts">
  import { onMount } from 'svelte'

  import { isAway, type Catalogue, type Mistake, type Schemas } from '$lib/api/client'
  import { Draft } from '$lib/draft.svelte'
  import { shop } from '$lib/length.svelte'
  import { outbox } from '$lib/outbox.svelte'
  import Choose from '$lib/parts/Choose.svelte'
  import DraftSays from '$lib/parts/DraftSays.svelte'
  import Mistakes from '$lib/parts/Mistakes.svelte'
  import Word from '$lib/parts/Word.svelte'
  import { session } from '$lib/session.svelte'
  import { needsOf } from '../sheet/order'
  import { Owners } from './owners.svelte'
  import { FRESH, pieceOf, wordsOf, type PieceFields } from './piece'

  let { catalogue, onkept }: { catalogue: Catalogue; onkept: (item: Schemas['OneItem']) => void } =
    $props()
  let f = $state<PieceFields>({ ...FRESH })
  let mistakes = $state.raw<Mistake[]>([])
  const owners = new Owners()
  const GAP = ' '
  const draft = new Draft<PieceFields>(
    'drawer/in',
    () => ({ ...f }),
    (typed) => (f = { ...FRESH, ...typed }),
  )
  onMount(() => void draft.begin())
  $effect(() => draft.keep())
  const kind = $derived(catalogue.stock_kinds.find((one) => one.key === f.kind))
  const needs = $derived(kind?.counted === 'sheet' ? ['width_mm'] : needsOf(f.profile, catalogue))
  const YES = [
    { key: 'no', title: 'bought' },
    { key: 'yes', title: 'poured here' },
  ]
  /** The errors of the piece at their own fields. */
  const told = $derived(
    mistakes.map((one) => ({ ...one, field: one.field.replace(/^piece\./, '') })),
  )

  async function keep(event: SubmitEvent) {
    event.preventDefault()
    const piece = pieceOf(f, catalogue.stock_kinds, needs, shop.units)
    const answer = await outbox.send<Schemas['OneItem']>({
      method: 'POST',
      path: '/api/stock',
      body: { piece, ...wordsOf(f) },
      says: `the new ${kind?.title ?? 'piece'}`,
      where: '/drawer/in',
      slot: draft.slot,
    })
    if (answer.problem) {
      mistakes = isAway(answer.problem.status) ? [] : answer.problem.errors
      return
    }
    mistakes = []
    f = { ...FRESH, kind: f.kind, metal: f.metal, profile: f.profile }
    draft.done()
    onkept(answer.data)
  }
</script>

<form onsubmit={keep} aria-label="Take in" data-testid="take-in">
  <p class="text-lead leading-[1.9]">
    Take in <Choose
      bind:value={f.kind}
      label="Kind of stock"
      field="kind"
      choices={catalogue.stock_kinds}
      mistakes={told}
    /> of <Choose
      bind:value={f.metal}
      label="Metal"
      field="metal"
      choices={catalogue.metals}
      mistakes={told}
    />{#if kind?.counted === 'length'}, <Choose
        bind:value={f.profile}
        label="Profile"
        field="profile"
        choices={catalogue.profiles}
        mistakes={told}
      />{/if}{#if kind?.counted !== 'mass'}{#if needs.includes('width_mm')}, <Word
          bind:value={f.width_mm}
          label="Width"
          field="width_mm"
          placeholder={shop.units}
          mistakes={told}
        /> wide{/if}, <Word
        bind:value={f.thickness_mm}
        label="Thickness"
        field="thickness_mm"
        placeholder={shop.units}
        mistakes={told}
      /> thick{#if needs.includes('side_mm')}, sides <Word
          bind:value={f.side_mm}
          label="Height of the straight side"
          field="side_mm"
          placeholder="half"
          mistakes={told}
        />{/if}, <Word
        bind:value={f.length_mm}
        label="Length"
        field="length_mm"
        placeholder="so long"
        mistakes={told}
      /> long or{GAP}{:else if f.kind === 'scrap'}, <Choose
        bind:value={f.state}
        label="State"
        field="state"
        choices={catalogue.scrap_states}
        mistakes={told}
      />,{GAP}{:else if f.kind === 'solder'}, <Word
        bind:value={f.solder}
        label="Which solder"
        field="solder"
        placeholder="which"
        mistakes={told}
      />,{GAP}{:else},{GAP}{/if}<Word
      bind:value={f.mass_g}
      label="Mass"
      field="mass_g"
      placeholder="so heavy"
      mistakes={told}
    /> g{#if kind?.counted !== 'mass'}, <Choose
        bind:value={f.poured}
        label="Bought or poured"
        field="poured"
        choices={YES}
        mistakes={told}
      />{/if}; call it <Word
      bind:value={f.name}
      label="Its name"
      field="name"
      placeholder="by its number"
      mistakes={told}
    />, lot <Word bind:value={f.lot} label="Lot" field="lot" placeholder="none" mistakes={told} />,
    in
    <Word
      bind:value={f.place}
      label="Where it lies"
      field="place"
      placeholder="which tray"
      mistakes={told}
    />{#if session.may('prices')}, <Word
        bind:value={f.price}
        label="Price of a gram"
        field="price"
        placeholder="no price"
        mistakes={told}
      /> a gram{/if}. It is
    <span onfocusin={() => void owners.open()}>
      <Choose
        bind:value={() => f.job_id, (v) => (f.job_id = v)}
        label="Whose it is"
        field="job_id"
        choices={owners.choices(f.job_id, 'for its job')}
        mistakes={told}
      />
    </span>{#if f.job_id}, from <Word
        bind:value={f.owner}
        label="Owner"
        field="owner"
        placeholder="its customer"
        mistakes={told}
      />{/if}.
    {#if outbox.from('/drawer/in').length}<span class="text-flame-text">It is on its way.</span>
    {:else}<button class="btn btn-primary ml-2 text-body leading-tight">Into the drawer</button
      >{/if}
  </p>
  <DraftSays {draft} />
  <Mistakes mistakes={told} />
</form>
