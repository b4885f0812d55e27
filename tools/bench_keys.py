"""From a key to its figure on the order's sheet, in Chromium, against a bare question from the same page."""

from __future__ import annotations

import statistics

from playwright.sync_api import sync_playwright

from tools.browser import SIZE, launch_arguments

#: Types a thickness of its own at each turn, ``gap`` ms after the figure before stood, and says how long each took.
TYPED = """async ([times, gap]) => {
  const field = document.querySelector('[aria-label="Thickness"]')
  const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set
  const shown = () => document.querySelector('.figure').textContent
  const took = []
  for (let i = 0; i < times; i += 1) {
    await new Promise((done) => setTimeout(done, gap))
    const before = shown(), begun = performance.now()
    const changed = new Promise((done) => {
      const watch = new MutationObserver(() => {
        if (shown() === before) return
        watch.disconnect()
        done()
      })
      watch.observe(document.body, { subtree: true, childList: true, characterData: true })
    })
    set.call(field, (1.2 + (i % 7) * 0.1).toFixed(1))
    field.dispatchEvent(new Event('input', { bubbles: true }))
    await changed
    took.push(performance.now() - begun)
  }
  return took
}"""
BARE = """async (times) => {
  const took = []
  for (let i = 0; i < times; i += 1) {
    const begun = performance.now()
    await (await fetch('/health')).text()
    took.push(performance.now() - begun)
  }
  return took
}"""


def measure(url: str, user: str, password: str) -> None:
    """Print the medians; a letter after a pause, and letters as fast as their figures come."""
    with sync_playwright() as running, running.chromium.launch(**launch_arguments()) as browser:
        page = browser.new_page(viewport=SIZE)
        page.goto(url)
        page.get_by_label("Name").fill(user)
        page.get_by_label("Password").fill(password)
        page.get_by_label("Password").press("Enter")
        page.get_by_test_id("now").wait_for()
        page.goto(f"{url}/ring")
        page.locator(".figure").first.wait_for()
        bare = statistics.median(page.evaluate(BARE, 60))
        for what, gap in (("a letter after a pause", 300), ("letters one after another", 20)):
            took = sorted(page.evaluate(TYPED, [60, gap]))
            middle, late = statistics.median(took), took[-4]
            print(
                f"key to figure, {what:<27}{middle:5.0f} ms median, {late:.0f} the slowest but three, "
                f"{middle / bare:.1f} times the bare {bare:.1f} (wanted: at most 60 ms)",
                flush=True,
            )
