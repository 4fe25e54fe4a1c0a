/** Drawings that are hostile, or merely large, made of nothing but loops: for tests of readers, of the server and of the soak. */

const svg = (body: string, head = 'width="1000mm" height="1000mm" viewBox="0 0 1000 1000"') => `<svg xmlns="http://www.w3.org/2000/svg" ${head}>${body}</svg>`

/** Numbers in [0, 1) that are the same every time (a linear congruential generator, Numerical Recipes). */
function sequence(seed = 7): () => number {
  let state = seed
  return () => {
    state = (state * 1664525 + 1013904223) % 2 ** 32
    return state / 2 ** 32
  }
}

const list = (count: number, each: (i: number) => string): string => {
  const parts: string[] = []
  for (let i = 0; i < count; i++) parts.push(each(i))
  return parts.join('')
}

/** A stipple: rings (a disc with a hole) on a grid, one path each. */
export const svgStipple = (rings: number): string =>
  svg(
    list(rings, (i) => {
      const [x, y] = [(i % 150) * 6 + 5, Math.floor(i / 150) * 6 + 5]
      return `<path d="M${x + 2} ${y}A2 2 0 0 1 ${x - 2} ${y}A2 2 0 0 1 ${x + 2} ${y}ZM${x + 1} ${y}A1 1 0 0 0 ${x - 1} ${y}A1 1 0 0 0 ${x + 1} ${y}Z"/>`
    }),
  )

/** The same stipple as one single path. */
export const svgStippleAsOne = (rings: number): string =>
  svg(
    `<path fill-rule="evenodd" d="${list(rings, (i) => {
      const [x, y] = [(i % 150) * 6 + 5, Math.floor(i / 150) * 6 + 5]
      return `M${x + 2} ${y}A2 2 0 0 1 ${x - 2} ${y}A2 2 0 0 1 ${x + 2} ${y}ZM${x + 1} ${y}A1 1 0 0 0 ${x - 1} ${y}A1 1 0 0 0 ${x + 1} ${y}Z`
    })}"/>`,
  )

/** One stroked line of so many points, a slow spiral that does not cross itself. */
export const svgStroke = (points: number): string =>
  svg(
    `<polyline fill="none" stroke="#222" stroke-width="0.2" points="${list(points, (i) => {
      const t = Math.sqrt(i) * 0.6
      return `${(500 + 1.2 * t * Math.cos(t)).toFixed(3)},${(500 + 1.2 * t * Math.sin(t)).toFixed(3)} `
    })}"/>`,
  )

/** One stroked line that runs across itself everywhere. */
export const svgScribble = (points: number): string => {
  const next = sequence()
  return svg(
    `<polyline fill="none" stroke="#222" stroke-width="0.2" points="${list(points, () => `${(next() * 1000).toFixed(2)},${(next() * 1000).toFixed(2)} `)}"/>`,
  )
}

/** A filled path whose segments cross one another everywhere: the number of crossings is about a sixth of the square of theirs. */
export const svgTangle = (segments: number, rule = 'nonzero'): string => {
  const next = sequence()
  return svg(`<path fill-rule="${rule}" d="M0 0${list(segments, () => `L${(next() * 1000).toFixed(2)} ${(next() * 1000).toFixed(2)}`)}Z"/>`)
}

/** A coast line: one closed path of so many short segments that crosses itself nowhere. */
export const svgCoast = (segments: number): string => {
  const next = sequence()
  return svg(
    `<path d="${list(segments, (i) => {
      const t = (2 * Math.PI * i) / segments
      const r = 400 + 40 * Math.sin(9 * t) + next() * (1200 / segments)
      return `${i === 0 ? 'M' : 'L'}${(500 + r * Math.cos(t)).toFixed(4)} ${(500 + r * Math.sin(t)).toFixed(4)}`
    })}Z"/>`,
  )
}

/** So many separate lines that are merely stroked. */
export const svgLines = (lines: number): string =>
  svg(`<g fill="none" stroke="#000" stroke-width="0.1">${list(lines, (i) => `<path d="M${(i % 400) * 2.4 + 1} ${Math.floor(i / 400) * 2.4 + 1}l1.5 1"/>`)}</g>`)

/** So many filled paths, all of one name and each in a colour other than its neighbour's. */
export const svgOneName = (paths: number): string =>
  svg(list(paths, (i) => `<path data-name="mark" fill="${i % 2 ? '#111' : '#eee'}" d="M${i % 300} ${Math.floor(i / 300)}h.5v.5h-.5z"/>`))

/** Style rules over elements. */
export const svgRules = (rules: number, elements: number): string =>
  svg(
    `<style>${list(rules, (i) => `.a .b${i} > .c${i}{fill:#123}`)}</style>${list(elements, (i) => `<g class="a"><path class="c${i}" d="M${i % 100} ${i % 90}h1v1z"/></g>`)}`,
  )

export const svgNestedMedia = (depth: number): string =>
  svg(`<style>${'@media all{'.repeat(depth)}path{fill:red}${'}'.repeat(depth)}</style><path d="M0 0h9v9z"/>`)

/** Spaces inside url(…), where an expression might go back and forth. */
export const svgSpaces = (spaces: number): string =>
  svg(
    `<path clip-path="url(${' '.repeat(spaces)}x" fill="url(${' '.repeat(spaces)}" d="M0 0h9v9z" width="${' '.repeat(spaces)}"/><rect width="${' '.repeat(spaces)}x" height="9"/>`,
  )

export const svgMatrices = (matrices: number): string => svg(`<path transform="${'matrix(1,0,0,1,0,0) '.repeat(matrices)}" d="M0 0h9v9z"/>`)
export const svgOpenMatrices = (matrices: number): string => svg(`<path transform="${'matrix('.repeat(matrices)}" d="M0 0h9v9z"/>`)

/** A document type declaration of so many bytes without an end. */
export const svgDoctype = (bytes: number): string => `<?xml version="1.0"?>${'<!DOCTYPE svg '.repeat(Math.ceil(bytes / 14))}${svg('<path d="M0 0h9v9z"/>')}`

/** Nested use: each level shows the one below twice. */
export const svgCopies = (levels: number): string =>
  svg(
    `<defs><path id="c0" d="M0 0h9v9z"/>${list(levels, (i) => `<g id="c${i + 1}"><use href="#c${i}"/><use href="#c${i}" x="1"/></g>`)}</defs><use href="#c${levels}"/>`,
  )

/** Elements under a clip path each, whose clips are cut by one another as they nest. */
export const svgClips = (depth: number, points: number): string =>
  svg(
    `<clipPath id="k"><path d="M0 0${list(points, (i) => `L${(500 + 400 * Math.cos(i * 2.4)).toFixed(2)} ${(500 + 400 * Math.sin(i * 2.4)).toFixed(2)}`)}Z"/></clipPath>` +
      `${list(depth, (i) => `<g clip-path="url(#k)" transform="translate(${i % 3})">`)}<path d="M0 0h900v900h-900z"/>${'</g>'.repeat(depth)}`,
  )

/** Names of elements and classes that every object has of itself. */
export const svgInheritedNames = (): string =>
  svg(
    '<constructor/><toString/><__proto__/><hasOwnProperty><path d="M0 0h1v1z"/></hasOwnProperty><path id="constructor" class="constructor __proto__" fill="constructor" stroke-linecap="constructor" stroke-linejoin="__proto__" d="M0 0h9v9z"/><use href="#toString"/>',
  )

const dxf = (entities: string) => `0\nSECTION\n2\nENTITIES\n${entities}0\nENDSEC\n0\nEOF\n`

/** Separate lines, none of which meets another. */
export const dxfLines = (lines: number): string =>
  dxf(list(lines, (i) => `0\nLINE\n8\n0\n10\n${(i % 400) * 3}\n20\n${Math.floor(i / 400) * 3}\n11\n${(i % 400) * 3 + 2}\n21\n${Math.floor(i / 400) * 3 + 1}\n`))

/** One chain of lines end to end. */
export const dxfChain = (lines: number): string => {
  const at = (i: number) => `${i}\n20\n${(i * 7) % 13}`
  return dxf(list(lines, (i) => `0\nLINE\n8\n0\n10\n${at(i)}\n11\n${i + 1}\n21\n${((i + 1) * 7) % 13}\n`))
}

/** Lines that all begin in one point. */
export const dxfStar = (lines: number): string =>
  dxf(list(lines, (i) => `0\nLINE\n8\n0\n10\n0\n20\n0\n11\n${(900 * Math.cos(i)).toFixed(5)}\n21\n${(900 * Math.sin(i)).toFixed(5)}\n`))

export const dxfCircles = (circles: number): string =>
  dxf(list(circles, (i) => `0\nCIRCLE\n8\n0\n10\n${(i % 150) * 6}\n20\n${Math.floor(i / 150) * 6}\n40\n2\n`))

/** Circles within circles. */
export const dxfTarget = (circles: number): string => dxf(list(circles, (i) => `0\nCIRCLE\n8\n0\n10\n0\n20\n0\n40\n${1 + i * 0.05}\n`))

export const dxfPolyline = (points: number, type: 'LWPOLYLINE' | 'POLYLINE' = 'LWPOLYLINE'): string => {
  const at = (i: number) => `10\n${((i * 1000) / points).toFixed(3)}\n20\n${(30 * Math.sin(i / 9)).toFixed(3)}\n`
  if (type === 'LWPOLYLINE') return dxf(`0\nLWPOLYLINE\n8\n0\n70\n0\n${list(points, at)}`)
  return dxf(`0\nPOLYLINE\n8\n0\n70\n0\n${list(points, (i) => `0\nVERTEX\n8\n0\n${at(i)}`)}0\nSEQEND\n`)
}

export const dxfSpline = (points: number): string =>
  dxf(
    `0\nSPLINE\n8\n0\n70\n0\n71\n3\n${list(points + 4, (i) => `40\n${Math.max(0, Math.min(points - 3, i - 3))}\n`)}${list(points, (i) => `10\n${(i * 0.1).toFixed(2)}\n20\n${(20 * Math.sin(i / 5)).toFixed(3)}\n`)}`,
  )

/** An ellipse that goes round for ever: its parameters are far apart. */
export const dxfEllipse = (): string => dxf('0\nELLIPSE\n10\n0\n20\n0\n11\n9\n21\n0\n40\n.5\n41\n-1e12\n42\n1e12\n')
