import { useEventListener } from '@vueuse/core'
import { beforeEach, describe, expect, it } from 'vitest'
import { inApp } from '@/testing/app'
import { forSheet, going, letterKeys, useKeys } from './keys'

let heard: string[]
const said = (what: string) => () => void heard.push(what)

/** A window whose sheet hears all keys meant for it, before or after the keys that work everywhere. */
function open(sheetFirst: boolean) {
  const sheet = () =>
    useEventListener(window, 'keydown', (e: KeyboardEvent) => forSheet(e) && heard.push(`sheet ${forSheet(e)}`))
  inApp(() => {
    if (sheetFirst) sheet()
    useKeys({
      find: said('find'),
      keys: said('keys'),
      go: (letter) => heard.push(`go ${letter}`),
      earlier: said('earlier'),
      later: said('later'),
      where: said('where'),
      escape: said('escape'),
      undo: said('undo'),
      redo: said('redo'),
    })
    if (!sheetFirst) sheet()
  })
}
const press = (key: string, more: KeyboardEventInit = {}, on: EventTarget = document.body) =>
  on.dispatchEvent(
    new KeyboardEvent('keydown', { key, code: `Key${key.toUpperCase()}`, bubbles: true, cancelable: true, ...more }),
  )

beforeEach(() => {
  heard = []
  going.now = false
  letterKeys.value = false
  document.body.innerHTML = ''
})

describe.each([true, false])('keys, where the sheet hears them first: %s', (sheetFirst) => {
  it('that name a tab after g do nothing to the sheet', () => {
    open(sheetFirst)
    press('g', { altKey: true })
    press('a')
    press('a', { altKey: true })
    expect(heard.filter((h) => h !== 'sheet g')).toEqual(['go a', 'sheet a'])
  })
  it('are letters alone only where a person turned that on, and never in a cell', () => {
    open(sheetFirst)
    press('b')
    expect(heard).toEqual([])
    letterKeys.value = true
    press('b')
    document.body.innerHTML = '<table><tr><td data-day="0" tabindex="0"></td></tr></table>'
    press('b', {}, document.querySelector('td')!)
    expect(heard).toEqual(['sheet b'])
  })
  it('that work everywhere are heard once, and not while something is typed', () => {
    open(sheetFirst)
    press('k', { ctrlKey: true })
    press('z', { ctrlKey: true })
    press('y', { ctrlKey: true })
    const field = document.body.appendChild(document.createElement('input'))
    for (const key of ['a', 'g', '[', '?']) press(key, {}, field)
    press('z', { ctrlKey: true }, field) // the field's own
    press('Escape', {}, field)
    expect(heard).toEqual(['find', 'undo', 'redo', 'escape'])
  })
  it('with Ctrl held are not for the sheet', () => {
    open(sheetFirst)
    press('a', { ctrlKey: true })
    expect(heard).toEqual([])
  })
})
