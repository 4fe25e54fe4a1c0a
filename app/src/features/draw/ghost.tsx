import type { OutlineDrawing } from '@/workers/messages'

/** An outline in the board's millimetres: as it is, filled lightly to draw over, or as a thin line. */
export function Ghost({ drawing, as }: { drawing: OutlineDrawing | undefined; as: 'solid' | 'filled' | 'line' }) {
  if (!drawing) return null
  return (
    // outlines' pictures have Y downwards, the board upwards
    <g transform="scale(1 -1)" aria-hidden>
      {drawing.parts.map((part, i) =>
        part.open || as === 'line' ? (
          <path
            key={i}
            d={part.path}
            fill="none"
            stroke="var(--ink)"
            strokeOpacity={as === 'line' ? 0.4 : 0.3}
            strokeWidth={1}
            vectorEffect="non-scaling-stroke"
          />
        ) : (
          <path key={i} d={part.path} fill={part.colour ?? 'var(--ink)'} fillOpacity={as === 'solid' ? 0.92 : 0.16} />
        ),
      )}
    </g>
  )
}

/** The board's box [minX, minY, maxX, maxY] of an outline's picture; undefined when it is empty. */
export function boxOf(drawing: OutlineDrawing | undefined): readonly [number, number, number, number] | undefined {
  if (!drawing || drawing.parts.length === 0) return undefined
  const [x, y, w, h] = drawing.box
  return [x, -y - h, x + w, -y]
}
