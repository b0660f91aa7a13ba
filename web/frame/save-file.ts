import { fetchFile } from '../api/client'

/**
 * Saves a file that the server makes, under the name that the server gives it.
 * @param body what it is made from, where that is sent
 * @throws ApiError where it cannot be made; AbortError where it was given up
 */
export async function saveFile(place: string, signal: AbortSignal, body?: object): Promise<void> {
  const answer = await fetchFile(place, signal, body)
  const named = /filename\*=UTF-8''([^;]+)/.exec(answer.headers.get('content-disposition') ?? '')?.[1]
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await answer.blob())
  link.download = named ? decodeURIComponent(named) : 'file'
  link.click()
  URL.revokeObjectURL(link.href)
}
