import { watchDebounced } from '@vueuse/core'
import { computed, ref, shallowRef, type Ref } from 'vue'
import { Refusal, type Schema } from '@/api/client'
import { useAct } from '@/book/act'
import { unkeyed, useForm, type Form } from '@/book/form'
import { mayDiscard } from '@/book/leaving'
import { capital, counted, figure, inWords, longDay } from './figures'

type Altered = Schema['Altered']

/** A record that is edited in its row. */
export interface Edit<R, M extends object> {
  open: (row: R) => void
  close: () => void
  row: Ref<R | undefined>
  form: Form<M>
  /** What saving would alter, in words; blank where nothing is changed. */
  alters: Ref<string>
  /** The same as it was answered. */
  altered: Ref<Altered | undefined>
  /** The record as it was read last. */
  met: (row: R) => void
  /** Deletes the record; why not is said. */
  remove?: () => void
  said: Ref<string>
}

/** What a change alters in work that is not billed, in words. */
export function inSentence(a: Altered): string {
  const many = [a.entries && `${counted(a.entries, 'entry')} of hours`, a.lines && counted(a.lines, 'cost line')]
  if (!a.entries && !a.lines) return 'This changes no cost and no charge.'
  const from = (was?: string, is?: string) =>
    was === is ? `stays ${figure(is)}` : `${figure(was)} becomes ${figure(is)}`
  const when = a.from === a.through ? `of ${longDay(a.from!)}` : `from ${longDay(a.from!)} to ${longDay(a.through!)}`
  return (
    `Changes ${many.filter(Boolean).join(' and ')} ${when}, not billed yet: ` +
    `cost ${from(a.costWas, a.cost)}, charge ${from(a.chargeWas, a.charge)}.`
  )
}

/** What a refusal says of fields: that is said beside them when it is saved, and not while they are typed. */
const fieldsOf = (refused: Error) => (refused instanceof Refusal ? refused.fields() : {})

/**
 * Edits records in their rows: what is typed starts as the record is, what saving it would alter is asked while typing, and it is
 * saved on the version it was opened at.
 */
export function useEdit<R extends { version?: number }, M extends object>(options: {
  typed: (row: R) => M
  put: (row: R, body: M & { version: number }, query: { try?: boolean }) => Promise<Altered>
  remove?: (row: R, body: { version: number }) => Promise<Altered>
  closed?: () => void
  /** Reads the record again once it is saved, where its form stays open: what was typed meanwhile stays, on the new version. */
  again?: () => Promise<R | undefined>
}): Edit<R, M> {
  const row = ref<R>() as Ref<R | undefined>
  const now = shallowRef<R>()
  const alters = ref('')
  const altered = ref<Altered>()
  const version = () => now.value?.version ?? 0
  const form = useForm<M, Altered>({
    blank: () => (now.value ? options.typed(now.value) : ({} as M)),
    version,
    send: async (body, on) => {
      const answer = await options.put(row.value!, { ...(unkeyed(body) as unknown as M), version: on }, {})
      if (options.again) row.value = now.value = (await options.again()) ?? row.value
      return answer
    },
    done: (_, sent) => (options.again ? typedOn(sent) : close()),
  })
  function unasked() {
    alters.value = ''
    altered.value = undefined
  }
  /** Keeps of the form only what was typed after it was sent. */
  function typedOn(sent: M) {
    unasked()
    const names = Object.keys(sent) as (keyof M)[]
    const later = names.filter((name) => JSON.stringify(form.model[name]) !== JSON.stringify(sent[name]))
    const typed = Object.fromEntries(later.map((name) => [name, form.model[name]]))
    form.reset()
    Object.assign(form.model, typed)
  }
  function open(of: R) {
    const typed = () => !!row.value && form.dirty
    if (typed()) return void mayDiscard(typed).then((discard) => discard && begin(of))
    begin(of)
  }
  function begin(of: R) {
    if (row.value === of) return close()
    row.value = now.value = of
    unasked()
    deleting.clear()
    form.reset()
  }
  function close() {
    row.value = now.value = undefined
    form.reset()
    unasked()
    options.closed?.()
  }
  let asked = 0
  watchDebounced(
    () => JSON.stringify(form.model),
    async () => {
      const of = row.value
      const turn = ++asked
      if (!of || !form.dirty || form.busy) return unasked()
      const body = JSON.parse(JSON.stringify(form.model)) as M
      let would: Altered | undefined
      const sentence = await options
        .put(of, { ...body, version: version() }, { try: true })
        .then((a) => inSentence((would = a)))
        .catch((refused: Error) => (Object.keys(fieldsOf(refused)).length ? '' : capital(inWords(refused.message))))
      if (turn !== asked || row.value !== of) return
      alters.value = sentence
      altered.value = would
    },
    { debounce: 300 },
  )
  const deleting = useAct()
  const remove = () =>
    void deleting
      .act(() => options.remove!(row.value!, { version: version() }))
      .then((done) => done !== undefined && close())
  const said = computed(() => deleting.said.value)
  const met = (read: R) => {
    if (row.value && (read.version ?? 0) > version()) now.value = read
  }
  return { open, close, met, row, form, alters, altered, said, remove: options.remove && remove }
}
