/** Hands a text, or a picture, to the browser as a file to be saved. */
export function saveFile(name: string, content: string | Blob, type = 'application/json'): void {
  const address = URL.createObjectURL(typeof content === 'string' ? new Blob([content], { type }) : content)
  const link = document.createElement('a')
  link.href = address
  link.download = name
  link.click()
  // The browser has taken it over once the click is done.
  setTimeout(() => URL.revokeObjectURL(address))
}

/** A name as a file may have it. */
export const fileName = (name: string, ending: string): string =>
  `${
    name
      .normalize('NFKD')
      // Å is an A with a mark of its own now.
      .replace(/\p{M}/gu, '')
      .replace(/[^\w-]+/g, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase()
      .slice(0, 80) || 'voskel'
  }.${ending}`

/** Lets somebody choose a file; null where they choose none. */
export function chooseFile(accept: string): Promise<File | null> {
  return new Promise((resolve) => {
    const input = document.createElement('input')
    input.type = 'file'
    input.accept = accept
    input.addEventListener('change', () => resolve(input.files?.[0] ?? null))
    input.addEventListener('cancel', () => resolve(null))
    input.click()
  })
}
