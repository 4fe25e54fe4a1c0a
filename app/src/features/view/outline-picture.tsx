import type { OutlineDrawing } from '@/workers/messages'

/** An outline in the colours of its layers; ink where they have none. */
export function OutlinePicture({ drawing, label }: { drawing: OutlineDrawing; label?: string }) {
  const [x, y, width, height] = drawing.box
  const line = Math.max(width, height) / 200
  return (
    <svg
      viewBox={[x - line, y - line, width + 2 * line, height + 2 * line].join(' ')}
      {...(label ? { role: 'img', 'aria-label': label } : { 'aria-hidden': true })}
    >
      {drawing.parts.map((part, i) =>
        part.open ? (
          <path key={i} d={part.path} fill="none" stroke="currentColor" strokeWidth={line} />
        ) : (
          <path key={i} d={part.path} style={part.colour ? { fill: part.colour } : undefined} />
        ),
      )}
    </svg>
  )
}
