import { describe, expect, it } from 'vitest'
import { counted, difference, figure, hours, inWords, percent, sumOf, timesOf } from './figures'

describe('figures are shown as the server has them, and never computed with', () => {
  it('keeps as many decimals as there are', () => {
    expect(figure('12735.40')).toBe('12,735.40')
    expect(figure('0.6700')).toBe('0.6700')
    expect(figure('')).toBe('')
  })
  it('holds amounts that a number could not', () => {
    expect(figure('90071992547409.93')).toBe('90,071,992,547,409.93')
  })
  it('has a minus sign, and a plus where it is a difference', () => {
    expect(figure('-1.50')).toBe('−1.50')
    expect(difference('3.00')).toBe('+3.00')
    expect(difference('-3.00')).toBe('−3.00')
  })
  it('leaves the noughts of hours and percentages away', () => {
    expect([hours('43.00'), hours('8.50'), hours('7.75'), hours('10')]).toEqual(['43', '8.5', '7.75', '10'])
    expect([percent('31.50'), percent('-2.00'), percent('')]).toEqual(['31.5 %', '−2 %', ''])
  })
})

it('writes the dates and the decimals of a sentence as they are written here, and leaves numbers of jobs alone', () => {
  expect(inWords('cap of 9000.00 reached on 2026-11-18')).toBe('cap of 9,000.00 reached on Nov 18, 2026')
  expect(inWords('2026-13-01 is no date')).toBe('2026-13-01 is no date')
  expect(counted(2, 'tax')).toBe('2 taxes')
  expect(inWords('-1250.50 is the amount of D43, job 12.07.1, at 7:30.15')).toBe(
    '−1,250.50 is the amount of D43, job 12.07.1, at 7:30.15',
  )
})

describe('the sum of what was chosen', () => {
  it('is exact', () => {
    expect(sumOf(['0.10', '0.20'])).toBe('0.30')
    expect(sumOf(['90071992547409.93', '0.01'])).toBe('90071992547409.94')
    expect(sumOf(['-8.50', '8.5', '-0.01'])).toBe('-0.01')
    expect(sumOf(['1', '2.5', '0.125'])).toBe('3.625')
  })
  it('passes over what has no figure, and is blank for none', () => {
    expect(sumOf(['1.00', undefined, null, ''])).toBe('1.00')
    expect(sumOf([undefined])).toBe('')
    expect(sumOf([])).toBe('')
  })
})

it('multiplies exactly, and rounds half away from 0', () => {
  expect(sumOf([timesOf('1', '1.005'), timesOf('3', '1.115')])).toBe('4.36') // 1.01 and 3.35
  expect(timesOf('-1', '1.005')).toBe('-1.01')
  expect(timesOf('2', '7', 0)).toBe('14')
  expect(timesOf('0.1', '3', 3)).toBe('0.300')
})

it('counts things', () => {
  expect(['entry', 'day', 'line'].map((thing) => [counted(1, thing), counted(2, thing)])).toEqual([
    ['1 entry', '2 entries'],
    ['1 day', '2 days'],
    ['1 line', '2 lines'],
  ])
})
