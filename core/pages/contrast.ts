const channel = (value: number) => {
  const share = value / 255
  return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4
}

/** Relative luminance of `#rrggbb` (WCAG 2.2, “relative luminance”). */
function luminance(colour: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => channel(Number.parseInt(colour.slice(at, at + 2), 16)))
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!
}

/** The contrast ratio of two colours, from 1 to 21 (WCAG 2.2, “contrast ratio”). */
export function contrastWith(colour: string, other: string): number {
  const [light, dark] = [luminance(colour), luminance(other)].sort((a, b) => b - a)
  return (light! + 0.05) / (dark! + 0.05)
}

/** A colour of the same hue that can be read on the dark paper: mixed with white as far as it takes. */
export function readableOnDark(colour: string): string {
  for (let share = 0; share <= 1; share += 0.05) {
    const mixed =
      '#' +
      [1, 3, 5]
        .map((at) => Math.round(Number.parseInt(colour.slice(at, at + 2), 16) * (1 - share) + 255 * share))
        .map((value) => value.toString(16).padStart(2, '0'))
        .join('')
    if (contrastWith(mixed, '#1b1a1d') >= 4.5) return mixed
  }
  return '#ffffff'
}
