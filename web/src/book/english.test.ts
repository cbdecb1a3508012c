import { afterEach, expect, it } from 'vitest'
import { billedNames, inWords, kindNames } from '@/parts/figures'
import { local, terms, writeAs } from './english'

afterEach(() => writeAs({ terms: '{days} days' }))

it('writes its own texts in the English of the company, the longest words first', () => {
  expect([local('Labour by'), terms(30), kindNames.labour]).toEqual(['Labour by', '30 days', 'Labour'])
  writeAs({ words: { labour: 'labor', 'bank code': 'routing number', code: 'number' }, terms: 'Net {days}' })
  expect([local('Labour by'), local('Bank code'), local('labourer')]).toEqual([
    'Labor by',
    'Routing number',
    'labourer',
  ])
  expect([terms(30), billedNames.labour, inWords('only labour has hours')]).toEqual([
    'Net 30',
    'Labor',
    'only labor has hours',
  ])
})
