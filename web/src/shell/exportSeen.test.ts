import { afterEach, describe, expect, it, vi } from 'vitest'
import { csvOf, exportSeen, plainly, rowsOf } from './exportSeen'

function sheet(...tables: string[]) {
  document.body.innerHTML = `<main id="sheet">${tables.join('')}</main>`
  return document.getElementById('sheet')!
}
const table = (rows: string, name = 'Jobs') => `<table class="ledger" aria-label="${name}">${rows}</table>`
const first = (of: ParentNode) => rowsOf(of.querySelector('table')!)

afterEach(() => vi.restoreAllMocks())

describe('figures', () => {
  it.each([
    ['12,735.40', 'en', '12735.40'],
    ['12.735,40', 'de', '12735.40'],
    ['−330.57', 'en', '-330.57'],
    ['43', 'en', '43'],
    ['10.71 %', 'en', '10.71 %'],
    ['7:00-15:30', 'en', '7:00-15:30'],
    ['PM-20418', 'en', 'PM-20418'],
    ['', 'en', ''],
  ])('%s in %s is %s', (text, locale, want) => expect(plainly(text, locale)).toBe(want))
})

describe('a table as it is seen', () => {
  it('has two levels of a cell side by side, and leaves out what is only for a screen reader', () => {
    const cell = `<td><span class="two"><span><b>1187</b> Ferry landing</span><small>Gannet</small></span><span class="sr">open it</span></td>`
    expect(first(sheet(table(`<tr>${cell}<td>8,056.86</td></tr>`)))).toEqual([
      ['1187 Ferry landing, Gannet', '8056.86'],
    ])
  })
  it('has what is typed into its fields, chosen and ticked, and what its pictures say', () => {
    const of = sheet(
      table(`<tr><td><input value="12"></td><td><input placeholder="18 %"></td><td><input placeholder="which job?"></td>
        <td><select><option>a</option><option selected>material</option></select></td><td><input type="checkbox" checked></td>
        <td><span role="img" aria-label="billed"><svg><title>x</title></svg></span></td></tr>`),
    )
    expect(first(of)).toEqual([['12', '18 %', '', 'material', 'yes', 'billed']])
  })
  it('takes the word of a cell that says itself what it holds', () => {
    expect(first(sheet(table(`<tr><td data-value="9"><span>9</span><span>1 over</span></td></tr>`)))).toEqual([['9']])
  })
  it('repeats a cell that goes over several rows, and keeps columns under their heads', () => {
    const of = sheet(
      table(`<tr><th>Worker</th><th>Job</th><th>Hours</th></tr>
        <tr><td rowspan="2">Aldo</td><td>1187</td><td>9</td></tr><tr><td>1181</td><td>8</td></tr>
        <tr><th colspan="2">Together</th><td>17</td></tr>`),
    )
    expect(first(of)).toEqual([
      ['Worker', 'Job', 'Hours'],
      ['Aldo', '1187', '9'],
      ['Aldo', '1181', '8'],
      ['Together', '', '17'],
    ])
  })
})

describe('the file', () => {
  it('has each table under its name where there are several, and no formulas', () => {
    const rows = `<tr><td>=1+1</td><td>-8</td><td>-x</td><td>a, "b"</td></tr>`
    const csv = csvOf(sheet(table(rows, 'Ready'), table('', 'Empty'), table('<tr><td>1</td></tr>', 'Not ready')))
    expect(csv).toBe(`Ready\r\n"'=1+1",-8,"'-x","a, ""b"""\r\n\r\nNot ready\r\n1\r\n`)
  })
  it('is named by what is shown, and there is none where there is no table', async () => {
    sheet()
    expect(exportSeen('Jobs')).toBe(false)
    sheet(table('<tr><td>1</td></tr>'))
    let saved = ''
    vi.spyOn(URL, 'createObjectURL').mockReturnValue('blob:x')
    vi.spyOn(URL, 'revokeObjectURL').mockImplementation(() => {})
    vi.spyOn(HTMLAnchorElement.prototype, 'click').mockImplementation(function (this: HTMLAnchorElement) {
      saved = this.download
    })
    expect(exportSeen('Time, 1187 Ferry landing, Nov 16 – Nov 22')).toBe(true)
    expect(saved).toBe('Time-1187-Ferry-landing-Nov-16-Nov-22.csv')
  })
})
