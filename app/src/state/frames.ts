import { LRUCache } from 'lru-cache'
import type { RouteNews } from '@/workers/messages'
import { meshBuffers, sharing, type ViewMesh } from '@/workers/view-mesh'

/** What frames that are kept for playing may take, bytes. */
export const FRAME_BYTES = 384 * 1024 * 1024

/**
 * Frames of pieces as they were made, kept so that they can be played: by what they are made of (see contentAt), within so many bytes, those unseen for longest thrown away
 * first. Arrays that frames have in common, such as a letter that only moves, are kept once.
 */
export class FrameCache {
  private readonly kept: LRUCache<string, RouteNews>
  /** how many frames hold each array */
  private readonly holders = new Map<ArrayBuffer, number>()
  /** meshes by their shape, to be shared */
  private readonly shapes = new Map<string, ViewMesh>()
  /** what all of them take, bytes */
  bytes = 0

  constructor(private readonly most = FRAME_BYTES) {
    this.kept = new LRUCache({ max: 40_000, dispose: (news) => this.drop(news) })
  }

  has = (content: string): boolean => this.kept.has(content)

  /** The same, without having seen it. */
  peek = (content: string): RouteNews | undefined => this.kept.peek(content)

  get = (content: string): RouteNews | undefined => this.kept.get(content)

  /** Whether so many frames as large as those that are kept have room. */
  holds = (frames: number): boolean => this.kept.size === 0 || (frames * this.bytes) / this.kept.size <= this.most

  put(content: string, news: RouteNews): void {
    if (this.kept.has(content)) return
    const mesh = news.mesh && sharing(news.mesh, this.shapes)
    const frame = mesh ? { ...news, mesh } : news
    for (const buffer of mesh ? meshBuffers(mesh) : []) {
      const holders = this.holders.get(buffer) ?? 0
      if (holders === 0) this.bytes += buffer.byteLength
      this.holders.set(buffer, holders + 1)
    }
    this.kept.set(content, frame)
    // the newest stays, however large it is
    while (this.bytes > this.most && this.kept.size > 1) this.kept.pop()
  }

  private drop({ mesh }: RouteNews): void {
    for (const buffer of mesh ? meshBuffers(mesh) : []) {
      const holders = (this.holders.get(buffer) ?? 1) - 1
      if (holders > 0) {
        this.holders.set(buffer, holders)
        continue
      }
      this.holders.delete(buffer)
      this.bytes -= buffer.byteLength
    }
    for (const [shape, { indices }] of this.shapes) if (!this.holders.has(indices.buffer as ArrayBuffer)) this.shapes.delete(shape)
  }
}
