import { describe, expect, it } from 'vitest'
import { alsoRead, readDate, readNumber } from './reading'

const locales = ['en-US', 'de-DE', 'fr-FR', 'de-CH', 'en-IN']

it('asks about a number that could be meant in another country’s way, and only then', () => {
  expect(['1.500', '$12.345', '1,500'].map((text) => alsoRead(text, 'de-DE'))).toEqual([undefined, undefined, '1500'])
  expect(['1.500', '$ 12.345', '1,500', '1.50', '0.125', '1,234.500'].map((text) => alsoRead(text, 'en-US'))).toEqual([
    '1500',
    '12345',
    undefined,
    undefined,
    undefined,
    undefined,
  ])
})

describe('what is typed is read as it is shown', () => {
  it.each(locales)('reads every number back that %s shows', (locale) => {
    for (const plain of ['0', '7', '-3.5', '1250.50', '1234567.89', '0.005', '-1000', '999999'])
      for (const grouping of [true, false]) {
        const digits = plain.split('.')[1]?.length ?? 0
        const shown = Number(plain).toLocaleString(locale, { minimumFractionDigits: digits, useGrouping: grouping })
        if (locale !== 'en-IN' || !grouping) expect(readNumber(shown, locale), shown).toBe(plain)
      }
  })
  it('takes thousands for thousands and cents for cents, by where it is read', () => {
    expect(readNumber('1.500', 'de-DE')).toBe('1500')
    expect(readNumber('1.500', 'en-US')).toBe('1.500')
    expect(readNumber('1,500', 'en-US')).toBe('1500')
    expect(readNumber('1,500', 'de-DE')).toBe('1.500')
  })
  it('knows the other way of writing where it can be no other', () => {
    expect(readNumber('1,250.50', 'de-DE')).toBe('1250.50')
    expect(readNumber('1.250,50', 'en-US')).toBe('1250.50')
    expect(readNumber('8.5', 'de-DE')).toBe('8.5')
    expect(readNumber('8,5', 'en-US')).toBe('8.5')
    expect(readNumber('0.500', 'de-DE')).toBe('0.500')
  })
  it('takes what bookkeepers write around a number', () => {
    expect(readNumber(' $3.98 ', 'en-US')).toBe('3.98')
    expect(readNumber('1 250,50 €', 'fr-FR')).toBe('1250.50')
    expect(readNumber("1'250.50", 'de-CH')).toBe('1250.50')
    expect(readNumber('(12.50)', 'en-US')).toBe('-12.50')
    expect(readNumber('31.5 %', 'en-US')).toBe('31.5')
    expect(readNumber('−3', 'en-US')).toBe('-3')
  })
  it.each(['', 'abc', '1.2.3', '12,34,56', '1,2345.6', '3 apples', '.', '-', '1.'])('refuses %j', (text) => {
    expect(readNumber(text, 'en-US')).toBeUndefined()
  })
})

describe('dates are read as people write them', () => {
  const today = '2026-11-25'
  it.each([
    ['today', today],
    ['yesterday', '2026-11-24'],
    ['-1', '2026-11-24'],
    ['+7', '2026-12-02'],
    ['2026-03-09', '2026-03-09'],
    ['18 Nov', '2026-11-18'],
    ['nov 18', '2026-11-18'],
    ['18 november 2025', '2025-11-18'],
    ['2 Jan', '2027-01-02'],
    ['9.3.26', '2026-03-09'],
  ])('reads %j', (text, date) => expect(readDate(text, today, 'en-US')).toBe(date))
  it('takes day and month in the order of the locale', () => {
    expect(readDate('3/9', today, 'en-US')).toBe('2026-03-09')
    expect(readDate('3/9', today, 'en-GB')).toBe('2026-09-03')
    expect(readDate('9.3.', '2026-04-01', 'de-DE')).toBe('2026-03-09')
    expect(readDate('11/18/2025', today, 'en-US')).toBe('2025-11-18')
  })
  it.each(['en-US', 'de-DE', 'fr-FR', 'en-GB'])('reads every date back that %s shows', (locale) => {
    for (let d = Date.UTC(2024, 0, 1); d < Date.UTC(2027, 0, 1); d += 11 * 86_400_000) {
      const shown = new Date(d).toLocaleDateString(locale, {
        day: 'numeric',
        month: 'short',
        year: 'numeric',
        timeZone: 'UTC',
      })
      expect(readDate(shown, today, locale), shown).toBe(new Date(d).toISOString().slice(0, 10))
    }
  })
  it.each(['', 'soon', '31/02/2026', '13/13', '2026-02-30', '1', '1/2/3/4'])('refuses %j', (text) => {
    expect(readDate(text, today, 'en-GB')).toBeUndefined()
  })
})
