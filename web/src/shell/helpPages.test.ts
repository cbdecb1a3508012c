import { expect, it } from 'vitest'
import { tabs } from '@/router'
import { helpFor, helpParts, sheetAt } from './helpPages'

it('has a page for every sheet, which begins with what it is for', () => {
  for (const path of [...tabs.map((t) => t.path), '/hours', '/jobs/1187', '/page/supplier/4'])
    expect(helpFor(sheetAt(path), '').length, path).toBeGreaterThan(1)
})

it('finds the parts that have all the words, of all pages', () => {
  expect(helpFor('today', 'mistyped wage').map((p) => `${p.sheet}: ${p.title}`)).toEqual(['setup: Workers and wages'])
  expect(helpFor('today', 'no such thing')).toEqual([])
  expect(helpParts.find((p) => p.title === 'Type hours')?.html).toContain('<code>8:30</code>')
})
