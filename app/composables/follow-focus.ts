/**
 * Moves the focus to the current row, if the focus is in its list or on the page as a whole: never out of a field in
 * which somebody types.
 */
export function followFocus(list: HTMLElement | undefined, to: HTMLElement | null | undefined): void {
  const { activeElement } = document
  if (
    activeElement === null ||
    activeElement === document.body ||
    activeElement.id === 'main' ||
    list?.contains(activeElement)
  )
    to?.focus({ preventScroll: true })
}
