import { computed, inject, nextTick, provide, reactive, ref, toRaw, watch, type InjectionKey } from 'vue'
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
  /** What somebody else has changed since it was opened, by name; blank where nobody has. */
  theirs: Partial<M>
  /** Begins again from what somebody else has saved. */
  takeTheirs: () => void
  /** Goes on with what was typed, on what somebody else has saved: of what was not typed theirs is kept. */
  keepMine: () => void
  submit: () => Promise<boolean>
  reset: (kept?: Partial<M>) => void
}

const key: InjectionKey<Form> = Symbol('form')

/**
 * What is typed into a form. The blank one is made anew after it was sent, with what is kept of it, such as a date or a
 * crew that the next one is likely to have too. What is typed while it is under way is not lost. A form of a record is sent
 * on the version that it was opened at, also when the record has been read again since.
 */
export function useForm<M extends object, T>(options: {
  blank: () => M
  send: (body: M & { key: string }, version: number) => Promise<T>
  change?: Change
  /** The version of the record, as it was read last. */
  version?: () => number | undefined
  /** What stays for the next one. */
  keep?: (keyof M)[]
  done?: (answer: T, sent: M) => void
}): Form<M> {
  const { busy, said, wrong, current, clear, once } = useAct(options.change)
  const text = (of: unknown) => JSON.stringify(of)
  const copy = (of: M) => JSON.parse(text(of)) as M
  const model = reactive(options.blank()) as M
  const opened = ref(copy(toRaw(model))) as { value: M }
  const on = ref(options.version?.())
  const dirty = computed(() => text(model) !== text(opened.value))
  const names = (of: M) => Object.keys(of) as (keyof M)[]

  function reset(kept: Partial<M> = {}) {
    Object.assign(model, options.blank(), kept)
    opened.value = copy(toRaw(model))
    on.value = options.version?.()
    clear()
  }
  const theirs = computed<Partial<M>>(() => {
    if (!options.version || busy.value || options.version() === on.value) return {}
    const now = options.blank()
    const changed = names(now).filter((name) => name !== 'version' && text(now[name]) !== text(opened.value[name]))
    return Object.fromEntries(changed.map((name) => [name, now[name]])) as Partial<M>
  })
  watch(
    () => options.version?.(),
    () => !busy.value && (!dirty.value || !Object.keys(theirs.value).length) && keepMine(),
  )
  /** What differs from what the form was opened with. */
  function typed(): Partial<M> {
    const mine = copy(toRaw(model))
    const own = names(mine).filter((name) => text(mine[name]) !== text(opened.value[name]))
    return Object.fromEntries(own.map((name) => [name, mine[name]])) as Partial<M>
  }
  function keepMine() {
    const mine = typed()
    reset()
    Object.assign(model, mine)
  }
  async function submit() {
    const sent = copy(toRaw(model))
    const answer = await once(sent, (body) => options.send(body, on.value ?? 0))
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
    dirty,
    theirs,
    takeTheirs: () => reset(),
    keepMine,
    submit,
    reset,
  }) as Form<M>
}

/** Gives a form to the fields in it, and keeps what each is called, by its name. */
export function provideForm(form: Form) {
  provide(key, form)
  const labels = reactive(new Map<string, Drawn>())
  provide(labelKey, labels)
  return labels
}
/** A field as it is drawn: what it is called, and how what is in it is written. */
export interface Drawn {
  label: string
  kind?: string
}
const labelKey: InjectionKey<Map<string, Drawn>> = Symbol('fields that are drawn')
/** The form that a field is in. */
export const formAround = () => inject(key, undefined)
/** Tells the form around that it has a field: what is wrong with it is said there. */
export const drawnIn = (name: string, field: Drawn) => inject(labelKey, undefined)?.set(name, field)

/** Puts the focus on the first field of an element that is wrong. */
export async function toFirstWrong(within: HTMLElement | undefined) {
  await nextTick()
  within?.querySelector<HTMLElement>('[aria-invalid="true"]')?.focus()
}

/** What a form sends where it changes something on a version: a retry is refused by that, and needs no key. */
export function unkeyed<B extends { key: string }>(body: B): Omit<B, 'key'> {
  const rest: Partial<B> = { ...body }
  delete rest.key
  return rest as Omit<B, 'key'>
}
