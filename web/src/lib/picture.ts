/** A picture chosen or taken, as it is sent: base64, drawn smaller on this device where it would be too large. */
const LARGEST_BYTES = 1_300_000
const LONGEST_SIDE = 1600
const QUALITY = 0.85

async function base64(blob: Blob): Promise<string> {
  const bytes = new Uint8Array(await blob.arrayBuffer())
  let text = ''
  for (let i = 0; i < bytes.length; i += 0x8000)
    text += String.fromCharCode(...bytes.subarray(i, i + 0x8000))
  return btoa(text)
}

/** The picture as base64; null where it is too large to send and this device cannot read it. */
export async function toSend(file: File): Promise<string | null> {
  if (file.size <= LARGEST_BYTES) return base64(file)
  try {
    const bitmap = await createImageBitmap(file)
    const share = Math.min(1, LONGEST_SIDE / Math.max(bitmap.width, bitmap.height))
    const canvas = new OffscreenCanvas(
      Math.max(1, Math.round(bitmap.width * share)),
      Math.max(1, Math.round(bitmap.height * share)),
    )
    canvas.getContext('2d')?.drawImage(bitmap, 0, 0, canvas.width, canvas.height)
    bitmap.close()
    return await base64(await canvas.convertToBlob({ type: 'image/jpeg', quality: QUALITY }))
  } catch {
    return null
  }
}
