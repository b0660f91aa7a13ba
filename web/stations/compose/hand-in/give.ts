import { fetchFile } from '../../../api/client'

/**
 * Saves a file that the server makes, under the name that the server gives it.
 * @throws ApiError where it cannot be made; AbortError where it was given up
 */
export async function saveFile(place: string, signal: AbortSignal): Promise<void> {
  const answer = await fetchFile(place, signal)
  const named = /filename\*=UTF-8''([^;]+)/.exec(answer.headers.get('content-disposition') ?? '')?.[1]
  const link = document.createElement('a')
  link.href = URL.createObjectURL(await answer.blob())
  link.download = named ? decodeURIComponent(named) : 'bibliography'
  link.click()
  URL.revokeObjectURL(link.href)
}

/** Has the browser take a file that is sent while it is made, be it large. */
export function followFile(place: string): void {
  const link = document.createElement('a')
  link.href = `/api${place}`
  link.download = ''
  link.click()
}
