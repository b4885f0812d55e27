/** The screen stays on while a card is open, where the browser lets a page ask for it. */
export const awakeAble = window.isSecureContext && 'wakeLock' in navigator

/** Keep it on until the answer is called; a page that was hidden asks again. */
export function stayAwake(): () => void {
  let lock: WakeLockSentinel | null = null
  let over = false
  async function ask() {
    if (over || document.visibilityState !== 'visible' || (lock && !lock.released)) return
    try {
      const got = await navigator.wakeLock.request('screen')
      if (over) await got.release()
      else lock = got
    } catch {
      lock = null // a low battery says no: the screen does as it always does
    }
  }
  const seen = () => void ask()
  document.addEventListener('visibilitychange', seen)
  void ask()
  return () => {
    over = true
    document.removeEventListener('visibilitychange', seen)
    void lock?.release().catch(() => undefined)
  }
}
