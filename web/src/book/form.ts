import { computed, inject, provide, reactive, ref, toRaw, type InjectionKey } from 'vue'
import type { Change } from '@/api/keys'
import { useAct } from './act'

/** A form: what is typed into it, by the names that the book has for it, and what the book says of that. */
export interface Form<M extends object = Record<string, unknown>> {
  model: M
  wrong: Record<string, string>
  said: string
  /** What stands in the book, where that is why it was refused. */
  current?: unknown
  busy: boolean
  dirty: boolean
  submit: () => Promise<boolean>
  reset: (kept?: Partial<M>) => void
}

const key: InjectionKey<Form> = Symbol('form')

/**
 * What is typed into a form. The blank one is made anew after it was sent, with what is kept of it, such as a date or a
 * crew that the next one is likely to have too. What is typed while it is under way is not lost.
 */
export function useForm<M extends object, T>(options: {
  blank: () => M
  send: (body: M & { key: string }) => Promise<T>
  change?: Change
  /** What stays for the next one. */
  keep?: (keyof M)[]
  done?: (answer: T, sent: M) => void
}): Form<M> {
  const { busy, said, wrong, current, clear, once } = useAct(options.change)
  const model = reactive(options.blank()) as M
  const text = (of: M) => JSON.stringify(of)
  const clean = ref(text(toRaw(model)))

  function reset(kept: Partial<M> = {}) {
    Object.assign(model, options.blank(), kept)
    clean.value = text(toRaw(model))
    clear()
  }
  async function submit() {
    const sent = structuredClone(toRaw(model))
    const answer = await once(sent, (body) => options.send(body))
    if (answer === undefined) return false
    if (text(toRaw(model)) === text(sent))
      reset(Object.fromEntries((options.keep ?? []).map((name) => [name, sent[name]])) as Partial<M>)
    options.done?.(answer, sent)
    return true
  }
  return reactive({
    model,
    wrong,
    said,
    current,
    busy,
    dirty: computed(() => text(model) !== clean.value),
    submit,
    reset,
  }) as Form<M>
}

/** Gives a form to the fields in it. */
export const provideForm = (form: Form) => provide(key, form)
/** The form that a field is in. */
export const formAround = () => inject(key, undefined)

/** What a form sends where it changes something on a version: a retry is refused by that, and needs no key. */
export function unkeyed<B extends { key: string }>(body: B): Omit<B, 'key'> {
  const rest: Partial<B> = { ...body }
  delete rest.key
  return rest as Omit<B, 'key'>
}
