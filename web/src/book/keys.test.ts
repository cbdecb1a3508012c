import { useEventListener } from '@vueuse/core'
import { beforeEach, describe, expect, it } from 'vitest'
import { inApp } from '@/testing/app'
import { forSheet, going, useKeys } from './keys'

let heard: string[]
const said = (what: string) => () => void heard.push(what)

/** A window whose sheet hears all keys meant for it, before or after the keys that work everywhere. */
function open(sheetFirst: boolean) {
  const sheet = () =>
    useEventListener(window, 'keydown', (e: KeyboardEvent) => forSheet(e) && heard.push(`sheet ${e.key}`))
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
  on.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...more }))

beforeEach(() => {
  heard = []
  going.now = false
  document.body.innerHTML = ''
})

describe.each([true, false])('keys, where the sheet hears them first: %s', (sheetFirst) => {
  it('that name a tab after g do nothing to the sheet', () => {
    open(sheetFirst)
    for (const key of ['g', 'a', 'a']) press(key)
    expect(heard.filter((h) => h !== 'sheet g')).toEqual(['go a', 'sheet a'])
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
  it('with Ctrl or Alt held are not for the sheet', () => {
    open(sheetFirst)
    press('a', { ctrlKey: true })
    press('a', { altKey: true })
    expect(heard).toEqual([])
  })
})
