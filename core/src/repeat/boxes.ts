/** Visits pairs of boxes (six numbers each, low corner and high corner) that come nearer than `near` mm, swept from left to right. */
export function forMeetingBoxes(boxes: Float64Array, near: number, visit: (i: number, j: number) => void): void {
  const order = Array.from({ length: boxes.length / 6 }, (_, i) => i).sort((a, b) => boxes[6 * a] - boxes[6 * b])
  let open: number[] = []
  for (const i of order) {
    let kept = 0
    for (const j of open) {
      if (boxes[6 * j + 3] + near < boxes[6 * i]) continue
      open[kept++] = j
      if (boxes[6 * i + 1] > boxes[6 * j + 4] + near || boxes[6 * j + 1] > boxes[6 * i + 4] + near) continue
      if (boxes[6 * i + 2] > boxes[6 * j + 5] + near || boxes[6 * j + 2] > boxes[6 * i + 5] + near) continue
      visit(i, j)
    }
    open = open.slice(0, kept)
    open.push(i)
  }
}
