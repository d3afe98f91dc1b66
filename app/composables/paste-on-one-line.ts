/** Pastes lines into a field of one line: separated by blanks, or joined where one address was broken over lines. */
export async function pasteOnOneLine(event: ClipboardEvent): Promise<void> {
  const pasted = event.clipboardData?.getData('text') ?? ''
  // Without line breaks the browser does it.
  if (!/[\r\n]/.test(pasted.trim())) return
  event.preventDefault()
  const input = event.target as HTMLInputElement
  const { onOneLine } = await import('~~/core/search')
  input.setRangeText(onOneLine(pasted), input.selectionStart ?? 0, input.selectionEnd ?? input.value.length, 'end')
  input.dispatchEvent(new Event('input', { bubbles: true }))
}
