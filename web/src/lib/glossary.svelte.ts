/** The words of the trade, fetched once when somebody first looks at a card or at the help. */
import { api, ask } from './api/client'
import { session } from './session.svelte'
import type { TradeWord } from './glossary'

class Glossary {
  words = $state.raw<TradeWord[]>([])
  private asked = false

  async want() {
    if (this.asked || !session.who?.signed_in) return
    this.asked = true
    const answer = await ask(api.GET('/api/glossary'))
    if (answer && !answer.problem) this.words = answer.data
    else this.asked = false
  }

  of(key: string): TradeWord | undefined {
    return this.words.find((word) => word.key === key)
  }
}

export const glossary = new Glossary()
