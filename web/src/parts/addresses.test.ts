import { expect, test } from 'vitest'
import { addressOf } from './addresses'

test('a place is found whatever its name holds', () => {
  expect(addressOf({ kind: 'crew_week', id: '2026-11-16', crew: 'Dock & Pile' })).toBe(
    '/time?crew=Dock%20%26%20Pile&from=2026-11-16',
  )
  expect(addressOf({ kind: 'job', id: '12/7' })).toBe('/jobs/12%2F7')
  expect(addressOf({ kind: 'cost_document', id: 41 })).toBe('/costs?span=all&open=41')
  expect(addressOf({ kind: 'customer', id: 4 })).toBe('/page/customer/4')
  expect(addressOf({ kind: 'user', id: 'E. Quill' })).toBe('/setup?part=people&find=E.%20Quill')
  expect(addressOf({ kind: 'labour_rate' })).toBe('/setup?part=rates')
})
