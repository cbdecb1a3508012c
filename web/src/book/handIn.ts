import { ref } from 'vue'
import { Refusal } from '@/api/client'

/** Handing hours in. Where some are dated after today the book asks first; handed in once more, they are meant. */
export function useHandIn() {
  const asks = ref('')
  async function handIn<T>(call: (ahead: boolean) => Promise<T>): Promise<T> {
    try {
      const answer = await call(!!asks.value)
      asks.value = ''
      return answer
    } catch (refused) {
      asks.value = refused instanceof Refusal ? (refused.at('ahead') ?? '') : ''
      throw asks.value ? new Error(asks.value) : refused
    }
  }
  return { asks, handIn }
}
