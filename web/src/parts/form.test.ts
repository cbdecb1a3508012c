import { afterEach, describe, expect, it, vi } from 'vitest'
import { h, nextTick, reactive } from 'vue'
import { answered, client } from '@/api/client'
import FormCard from './FormCard.vue'
import FormField from './FormField.vue'
import { bookThat, inApp, mounted, refusal, until } from '@/testing/app'
import { useForm, type Form } from '@/book/form'
import { anythingTyped, asked, mayDiscard } from '@/book/leaving'

afterEach(() => vi.unstubAllGlobals())

/** A form of a customer that somebody else may change meanwhile. */
function customerForm(record: { name: string; phone: string; version: number }) {
  const sent: unknown[] = []
  const form = inApp(() =>
    useForm({
      blank: () => ({ name: record.name, phone: record.phone }),
      version: () => record.version,
      send: (body, version) => {
        sent.push({ ...body, version })
        return Promise.resolve({})
      },
    }),
  )
  return { form, sent }
}

describe('a form of a record that somebody else changes', () => {
  it('follows where nothing was typed', async () => {
    const record = reactive({ name: 'Heron Cove', phone: '1', version: 3 })
    const { form } = customerForm(record)
    Object.assign(record, { phone: '2', version: 4 })
    await nextTick()
    expect(form.model.phone).toBe('2')
    expect(form.dirty).toBe(false)
  })
  it('says what they changed, and is not sent on their version until the person has decided', async () => {
    const record = reactive({ name: 'Heron Cove', phone: '1', version: 3 })
    const { form, sent } = customerForm(record)
    form.model.name = 'Heron Cove Marina'
    Object.assign(record, { phone: '2', version: 4 })
    await nextTick()
    expect(form.theirs).toEqual({ phone: '2' })
    await form.submit()
    expect(sent).toMatchObject([{ name: 'Heron Cove Marina', phone: '1', version: 3 }])
  })
  it('keeps mine on top of theirs, or takes theirs', async () => {
    const record = reactive({ name: 'Heron Cove', phone: '1', version: 3 })
    const { form, sent } = customerForm(record)
    form.model.name = 'Heron Cove Marina'
    Object.assign(record, { name: 'Heron', phone: '2', version: 4 })
    await nextTick()
    form.keepMine()
    await form.submit()
    expect(sent).toMatchObject([{ name: 'Heron Cove Marina', phone: '2', version: 4 }])

    form.model.name = 'Mine'
    Object.assign(record, { name: 'Theirs', version: 5 })
    await nextTick()
    form.takeTheirs()
    expect(form.model.name).toBe('Theirs')
    expect(form.theirs).toEqual({})
  })
})

describe('what is wrong with a form', () => {
  const card = (answer: Response) => {
    bookThat({ 'POST /api/units': answer })
    let form!: Form
    const Part = {
      setup() {
        form = useForm({
          blank: () => ({ name: '', code: '' }),
          send: (body) => answered(client.POST('/api/units' as never, { body } as never)),
        }) as unknown as Form
        return () =>
          h(FormCard, { form, label: 'New unit', submit: 'Save', cancel: 'Cancel' }, () => [
            h(FormField, { label: 'Name', name: 'name' }),
            h(FormField, { label: 'Code', name: 'code' }),
          ])
      },
    }
    return mounted(Part).then((box) => ({ box, form }))
  }
  it('is said beside its field, which gets the focus, and of what is not drawn below', async () => {
    const { box } = await card(refusal(422, 'look again', { code: 'no such code', lines: 'type a line first' }))
    box.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }))
    await until(() => expect(box.querySelector('form > .said')?.textContent).toBe('type a line first'))
    expect((document.activeElement as HTMLInputElement).name).toBe('code')
  })
  it('is the general sentence where no field is wrong', async () => {
    const { box } = await card(refusal(409, 'there is one already'))
    box.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }))
    await until(() => expect(box.querySelector('form > .said')?.textContent).toBe('there is one already'))
  })
  it('is not thrown away with what was typed without asking', async () => {
    const { box, form } = await card(refusal(409, 'there is one already'))
    expect(await mayDiscard()).toBe(true)
    form.model.name = 'fathom'
    await nextTick()
    expect(anythingTyped()).toBe(true)
    const cancel = [...box.querySelectorAll('button')].find((b) => b.textContent === 'Cancel')!
    cancel.click()
    await until(() => expect(asked.value).toBeDefined())
    asked.value!(false)
    await nextTick()
    expect(form.model.name).toBe('fathom')
    cancel.click()
    await until(() => expect(asked.value).toBeDefined())
    asked.value!(true)
    await until(() => expect(form.dirty).toBe(false))
  })
})
