import { expect, it } from 'vitest'

import { withUnit } from './units'

it.each([
  ['0.07', 'in', '0.07 in'],
  ['1 1/16', 'in', '1 1/16 in'],
  ['½', 'in', '½ in'],
  ['16 ga', 'in', '16 ga'],
  ['1.8 mm', 'in', '1.8 mm'],
  ['', 'in', ''],
  ['-', 'in', '-'],
  ['1.8', 'mm', '1.8'],
])('%s in a shop that works in %s', (text, units, sent) => expect(withUnit(text, units)).toBe(sent))
