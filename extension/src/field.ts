/** Where somebody writes: a field of a form, or a part of a page that is edited. */
export interface Field {
  element: HTMLElement
  text(): string
  /** Puts something in the place of a part of the text, as if it had been typed; false where the text is another. */
  replace(start: number, end: number, was: string, by: string): boolean
  /** The part as a range of the page, where it is one. */
  rangeOf(start: number, end: number): Range | undefined
}

const TYPES = new Set(['text', 'search', 'url', ''])

/** The field an event came from, also within shadow trees that are open. */
export function fieldOf(event: Event): Field | undefined {
  for (const target of event.composedPath()) {
    if (target instanceof HTMLTextAreaElement) return control(target)
    if (target instanceof HTMLInputElement) return TYPES.has(target.type) ? control(target) : undefined
    if (target instanceof HTMLElement && target.isContentEditable) return editable(rootOf(target))
  }
  return undefined
}

/** The outermost element that is edited. */
function rootOf(element: HTMLElement): HTMLElement {
  let root = element
  while (root.parentElement?.isContentEditable) root = root.parentElement
  return root
}

/** Types a text where the selection is: the page sees it as it sees typing, and can undo it. */
function typed(element: HTMLElement, text: string): boolean {
  return element.ownerDocument.execCommand('insertText', false, text)
}

const control = (element: HTMLTextAreaElement | HTMLInputElement): Field => ({
  element,
  text: () => element.value,
  rangeOf: () => undefined,
  replace(start, end, was, by) {
    if (element.value.slice(start, end) !== was || element.readOnly || element.disabled) return false
    element.focus()
    element.setSelectionRange(start, end)
    if (!typed(element, by)) {
      element.setRangeText(by, start, end, 'end')
      element.dispatchEvent(
        new InputEvent('input', { bubbles: true, composed: true, inputType: 'insertText', data: by }),
      )
    }
    return true
  },
})

/** The texts within an element, one after the other; what stands in blocks of their own is kept apart. */
function* textsOf(element: HTMLElement): Generator<Text> {
  const walker = element.ownerDocument.createTreeWalker(element, NodeFilter.SHOW_TEXT)
  for (let node = walker.nextNode(); node; node = walker.nextNode()) yield node as Text
}

const BLOCK = /^(?:block|list-item|table-cell|flex|grid)$/

/** Whether two texts follow each other in a line. */
function inLine(a: Text, b: Text, root: HTMLElement): boolean {
  const blockOf = (node: Text) => {
    let element = node.parentElement
    while (element && element !== root && !BLOCK.test(getComputedStyle(element).display))
      element = element.parentElement
    return element
  }
  if (blockOf(a) !== blockOf(b)) return false
  const between = root.ownerDocument.createRange()
  between.setStartAfter(a)
  between.setEndBefore(b)
  return between.cloneContents().querySelector('br') === null
}

function editable(element: HTMLElement): Field {
  const read = () => {
    let text = ''
    let before: Text | undefined
    const parts: { node: Text; from: number }[] = []
    for (const node of textsOf(element)) {
      if (before && !inLine(before, node, element)) text += '\n'
      parts.push({ node, from: text.length })
      text += node.data
      before = node
    }
    return { text, parts }
  }
  const rangeOf = (start: number, end: number): Range | undefined => {
    const { parts } = read()
    const at = (position: number) => parts.findLast(({ from }) => from <= position)
    const [first, last] = [at(start), at(Math.max(start, end - 1))]
    if (!first || !last) return undefined
    const range = element.ownerDocument.createRange()
    range.setStart(first.node, Math.min(start - first.from, first.node.length))
    range.setEnd(last.node, Math.min(end - last.from, last.node.length))
    return range
  }
  return {
    element,
    text: () => read().text,
    rangeOf,
    replace(start, end, was, by) {
      const range = rangeOf(start, end)
      if (!range || range.toString() !== was) return false
      element.focus()
      const selection = (element.getRootNode() as Document).getSelection?.() ?? getSelection()
      if (!selection) return false
      selection.removeAllRanges()
      selection.addRange(range)
      if (!typed(element, by)) {
        range.deleteContents()
        range.insertNode(element.ownerDocument.createTextNode(by))
        element.dispatchEvent(
          new InputEvent('input', { bubbles: true, composed: true, inputType: 'insertText', data: by }),
        )
      }
      return true
    },
  }
}
