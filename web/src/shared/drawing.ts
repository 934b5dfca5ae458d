/** Drawings and their numbers as files of their own. */

/** A drawing as a file of its own: the colours and fonts of the page are written into it. */
export function standalone(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const inherit = [
    'fill',
    'stroke',
    'stroke-width',
    'stroke-dasharray',
    'font-family',
    'font-size',
    'font-weight',
    'text-anchor',
    'opacity',
    'fill-opacity',
  ]
  const from = [svg, ...svg.querySelectorAll('*')]
  const to = [copy, ...copy.querySelectorAll('*')]
  from.forEach((element, n) => {
    const style = getComputedStyle(element)
    for (const name of inherit) to[n]?.setAttribute(name, style.getPropertyValue(name))
    to[n]?.removeAttribute('class')
  })
  const { width, height } = svg.getBoundingClientRect()
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.setAttribute('width', String(width))
  copy.setAttribute('height', String(height))
  const paper = document.createElementNS('http://www.w3.org/2000/svg', 'rect')
  paper.setAttribute('width', '100%')
  paper.setAttribute('height', '100%')
  paper.setAttribute('fill', getComputedStyle(document.body).backgroundColor)
  copy.insertBefore(paper, copy.firstChild)
  return new XMLSerializer().serializeToString(copy)
}

/** The same as a picture of points, twice as fine as on screen. */
export async function asPng(svg: SVGSVGElement): Promise<Blob> {
  const image = new Image()
  image.src = URL.createObjectURL(new Blob([standalone(svg)], { type: 'image/svg+xml' }))
  await image.decode()
  const canvas = document.createElement('canvas')
  canvas.width = image.width * 2
  canvas.height = image.height * 2
  canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height)
  URL.revokeObjectURL(image.src)
  return new Promise((resolve, reject) =>
    canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('no picture'))), 'image/png'),
  )
}

/** Lines of texts and numbers as CSV (RFC 4180). What begins like a formula is kept from being one. */
export function asCsv(lines: readonly (readonly (string | number)[])[]): string {
  const cell = (value: string | number) => {
    const text = typeof value === 'string' && /^[=+\-@\t\r]/.test(value) ? `'${value}` : String(value)
    return /[",\r\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text
  }
  return lines.map((line) => line.map(cell).join(',') + '\r\n').join('')
}
