<script lang="ts">
  /** What is beside a dialog: a press there closes it, as Escape does. */
  let { onclose }: { onclose: () => void } = $props()
</script>

<button type="button" class="modal-backdrop" tabindex="-1" aria-hidden="true" onclick={onclose}
></button>
