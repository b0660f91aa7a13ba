/** Has the browser take a file that is sent while it is made, be it large. */
export function followFile(place: string): void {
  const link = document.createElement('a')
  link.href = `/api${place}`
  link.download = ''
  link.click()
}
