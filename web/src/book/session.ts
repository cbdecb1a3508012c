import { defineStore } from 'pinia'
import { ref } from 'vue'
import { answered, client, onSessionOver, Refusal, type Schema } from '@/api/client'
import { forgetOffline } from './offline'
import { writeAs } from './english'

/** Who is signed in, and whose book it is. */
export const useSession = defineStore('session', () => {
  const book = ref<Schema['BookState']>()
  const who = ref<Schema['Who']>()
  let loaded = false

  /** Reads whose book it is, and which English it writes. */
  async function read() {
    book.value = await answered(client.GET('/api/state'))
    writeAs(book.value.english)
  }
  async function load() {
    if (loaded) return
    await read()
    try {
      who.value = book.value?.opened ? await answered(client.GET('/api/session')) : undefined
    } catch (error) {
      if (!(error instanceof Refusal) || error.status !== 401) throw error
      who.value = undefined
    }
    loaded = true
  }

  async function signIn(signIn: string, password: string) {
    const response = await fetch('/api/session', {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ signIn, password }),
    })
    const body = await response.json()
    if (!response.ok) throw new Refusal(body)
    who.value = body
  }

  async function openBook(body: Schema['NewBook']) {
    who.value = await answered(client.POST('/api/book', { body }))
    await read()
  }

  /** The session ended while the window was open: it waits, with all that is typed, until the same person signs in again. */
  const over = ref(false)
  let goOn: ((again: boolean) => void) | undefined
  let waiting: Promise<boolean> | undefined
  function again(): Promise<boolean> {
    if (!who.value) return Promise.resolve(false)
    over.value = true
    return (waiting ??= new Promise((resolve) => (goOn = resolve)))
  }
  async function signInAgain(password: string) {
    const before = who.value
    await signIn(before?.signIn ?? '', password)
    over.value = false
    waiting = undefined
    goOn?.(true)
  }
  onSessionOver(again)

  async function signOut() {
    await answered(client.DELETE('/api/session'))
    await forgetOffline()
    location.assign('/sign-in')
  }

  const can = (permission: string) => who.value?.permissions?.some((p) => p === permission) ?? false

  return { book, who, over, load, read, signIn, again, signInAgain, openBook, signOut, can }
})
