import { vi } from 'vitest'

/** Everything anew, as after a reload; what the device keeps stays. */
export async function page() {
  vi.resetModules()
  const { owner, when } = await import('../api/client')
  Object.assign(owner, { person: 3, workshop: 1 })
  const { device } = await import('../device.svelte')
  await device.start()
  const { outbox } = await import('../outbox.svelte')
  when('answered', () => void outbox.flush()) // as the session does
  const { Draft } = await import('../draft.svelte')
  const { Editing } = await import('../editing.svelte')
  return { owner, device, outbox, Draft, Editing }
}
export const parcel = (says: string, body: unknown = {}) => ({
  method: 'PUT' as const,
  path: `/api/${says}`,
  body,
  says,
  where: '/here',
})
