var __getOwnPropNames = Object.getOwnPropertyNames;
var __esm = (fn, res, err) => function __init() {
  if (err) throw err[0];
  try {
    return fn && (res = (0, fn[__getOwnPropNames(fn)[0]])(fn = 0)), res;
  } catch (e) {
    throw err = [e], e;
  }
};

// core/src/evaluate/hash.ts
import { sha256 } from "@noble/hashes/sha2.js";
import { bytesToHex } from "@noble/hashes/utils.js";
function hashBytes(bytes) {
  return bytesToHex(sha256(bytes));
}
var bits, words;
var init_hash = __esm({
  "core/src/evaluate/hash.ts"() {
    "use strict";
    bits = new Float64Array(1);
    words = new Uint32Array(bits.buffer);
  }
});

// core/src/outline/cubic.ts
var init_cubic = __esm({
  "core/src/outline/cubic.ts"() {
    "use strict";
  }
});

// core/src/outline/path.ts
function transformPath(path, m) {
  const coords = new Float64Array(path.coords.length);
  for (let i = 0; i < coords.length; i += 2) {
    const x = path.coords[i];
    const y = path.coords[i + 1];
    coords[i] = m[0] * x + m[2] * y + m[4];
    coords[i + 1] = m[1] * x + m[3] * y + m[5];
  }
  return { verbs: path.verbs, coords, closed: path.closed };
}
var LINE, QUADRATIC, CUBIC, PathBuilder;
var init_path = __esm({
  "core/src/outline/path.ts"() {
    "use strict";
    init_cubic();
    LINE = 1;
    QUADRATIC = 2;
    CUBIC = 3;
    PathBuilder = class {
      verbs = [];
      coords = [];
      constructor(x, y) {
        this.push(x, y);
      }
      /** where it begins */
      get start() {
        return [this.coords[0], this.coords[1]];
      }
      get x() {
        return this.coords[this.coords.length - 2];
      }
      get y() {
        return this.coords[this.coords.length - 1];
      }
      get segments() {
        return this.verbs.length;
      }
      lineTo(x, y) {
        if (x === this.x && y === this.y) return;
        this.verbs.push(LINE);
        this.push(x, y);
      }
      quadraticTo(cx, cy, x, y) {
        this.verbs.push(QUADRATIC);
        this.push(cx, cy, x, y);
      }
      cubicTo(c1x, c1y, c2x, c2y, x, y) {
        this.verbs.push(CUBIC);
        this.push(c1x, c1y, c2x, c2y, x, y);
      }
      /** Goes along the segments of a path that begins here. */
      follow({ verbs, coords }) {
        let o = 2;
        for (const verb of verbs) {
          const c = coords.subarray(o, o + 2 * verb);
          if (verb === LINE) this.lineTo(c[0], c[1]);
          else if (verb === QUADRATIC) this.quadraticTo(c[0], c[1], c[2], c[3]);
          else this.cubicTo(c[0], c[1], c[2], c[3], c[4], c[5]);
          o += 2 * verb;
        }
      }
      build(closed) {
        return { verbs: Uint8Array.from(this.verbs), coords: Float64Array.from(this.coords), closed };
      }
      push(...values) {
        for (const v of values) if (!Number.isFinite(v)) throw new RangeError(`path coordinate is not a finite number: ${v}`);
        this.coords.push(...values);
      }
    };
  }
});

// core/src/format/mesh-data.ts
var MAX_MODEL_BYTES;
var init_mesh_data = __esm({
  "core/src/format/mesh-data.ts"() {
    "use strict";
    MAX_MODEL_BYTES = 256 * 1024 * 1024;
  }
});

// core/src/solid/solid.ts
function connectedParts(indices, vertices) {
  const parent = new Int32Array(vertices);
  for (let i = 0; i < vertices; i++) parent[i] = i;
  const find = (start) => {
    let v = start;
    while (parent[v] !== v) {
      parent[v] = parent[parent[v]];
      v = parent[v];
    }
    return v;
  };
  for (let i = 0; i < indices.length; i += 3) {
    const a = find(indices[i]);
    const b = find(indices[i + 1]);
    if (a !== b) parent[b] = a;
    const c = find(indices[i + 2]);
    if (a !== c) parent[c] = a;
  }
  const numbers = new Int32Array(vertices).fill(-1);
  let count = 0;
  const part = new Uint16Array(indices.length / 3);
  for (let i = 0; i < part.length; i++) {
    const root = find(indices[3 * i]);
    if (numbers[root] < 0) numbers[root] = count++;
    part[i] = Math.min(numbers[root], 65535);
  }
  return { part, count };
}
var FACE, EDGE, RETURN, BACK, NO_LETTER;
var init_solid = __esm({
  "core/src/solid/solid.ts"() {
    "use strict";
    FACE = 0;
    EDGE = 1;
    RETURN = 2;
    BACK = 3;
    NO_LETTER = 65535;
  }
});

// core/src/kernel/manifold.ts
function loadManifold() {
  loading2 ??= (async () => {
    const { default: open2 } = await import("manifold-3d/manifold.js");
    const wasm = await open2();
    wasm.setup();
    loaded = wasm;
    return wasm;
  })().catch((error) => {
    loading2 = void 0;
    throw error;
  });
  return loading2;
}
function manifold() {
  if (!loaded) throw new Error("the manifold kernel is used before loadManifold()");
  return loaded;
}
function withScope(work) {
  const owned = [];
  try {
    return work((object) => {
      owned.push(object);
      return object;
    });
  } finally {
    for (const object of owned.reverse()) object.delete();
  }
}
var loading2, loaded;
var init_manifold = __esm({
  "core/src/kernel/manifold.ts"() {
    "use strict";
  }
});

// core/src/outline/affine.ts
function scaling(s) {
  return [s, 0, 0, s, 0, 0];
}
var init_affine = __esm({
  "core/src/outline/affine.ts"() {
    "use strict";
  }
});

// core/src/outline/lattice.ts
function snap(value, step) {
  return Math.round(value / step) * step;
}
function latticeKey(x, y, step) {
  return Math.round(x / step) * 67108864 + Math.round(y / step);
}
var init_lattice = __esm({
  "core/src/outline/lattice.ts"() {
    "use strict";
  }
});

// core/src/outline/flatten.ts
function flattenPath(path, options) {
  const { tolerance, maxTurn = 15, lattice = 0 } = options;
  const round = (v) => lattice > 0 ? snap(v, lattice) : v;
  const xy = [];
  const arrive = [];
  const leave = [];
  const straight = [];
  const add = (x, y, ax, ay, lx, ly, flags) => {
    xy.push(round(x), round(y));
    arrive.push(ax, ay);
    leave.push(lx, ly);
    straight.push(flags);
  };
  const c = path.coords;
  let o = 0;
  add(c[0], c[1], NaN, NaN, NaN, NaN, 0);
  const depart = (dx, dy, line) => {
    const k = leave.length - 2;
    leave[k] = dx;
    leave[k + 1] = dy;
    if (line) straight[straight.length - 1] |= 2;
  };
  for (const verb of path.verbs) {
    const x0 = c[o];
    const y0 = c[o + 1];
    if (verb === LINE) {
      const x = c[o + 2];
      const y = c[o + 3];
      const length = Math.hypot(x - x0, y - y0);
      if (length > 0) {
        const dx = (x - x0) / length;
        const dy = (y - y0) / length;
        depart(dx, dy, true);
        add(x, y, dx, dy, NaN, NaN, 1);
      }
    } else {
      const p = cubicOf(c, o, verb);
      const pieces = chordCount(p, tolerance, maxTurn);
      if (pieces > 0) {
        const start = direction(p, 0);
        depart(start[0], start[1], false);
        for (let i = 1; i <= pieces; i++) {
          const t = i / pieces;
          const d = direction(p, t);
          if (i === pieces) add(p[6], p[7], d[0], d[1], NaN, NaN, 0);
          else add(bezier(p[0], p[2], p[4], p[6], t), bezier(p[1], p[3], p[5], p[7], t), d[0], d[1], d[0], d[1], 0);
        }
      }
    }
    o += 2 * verb;
  }
  return finish(xy, arrive, leave, straight, path.closed);
}
function cubicOf(c, o, verb) {
  if (verb !== QUADRATIC) return Array.from(c.subarray(o, o + 8));
  const [x0, y0, x1, y1, x2, y2] = c.subarray(o, o + 6);
  return [x0, y0, x0 + (x1 - x0) * 2 / 3, y0 + (y1 - y0) * 2 / 3, x2 + (x1 - x2) * 2 / 3, y2 + (y1 - y2) * 2 / 3, x2, y2];
}
function bezier(a, b, c, d, t) {
  const s = 1 - t;
  return s * s * s * a + 3 * s * s * t * b + 3 * s * t * t * c + t * t * t * d;
}
function direction(p, t) {
  const s = 1 - t;
  let dx = s * s * (p[2] - p[0]) + 2 * s * t * (p[4] - p[2]) + t * t * (p[6] - p[4]);
  let dy = s * s * (p[3] - p[1]) + 2 * s * t * (p[5] - p[3]) + t * t * (p[7] - p[5]);
  const scale = Math.abs(p[6] - p[0]) + Math.abs(p[7] - p[1]) + Math.abs(p[2] - p[0]) + Math.abs(p[3] - p[1]);
  if (Math.hypot(dx, dy) < 1e-9 * scale) {
    const late = t > 0.5;
    dx = late ? p[6] - p[2] : p[4] - p[0];
    dy = late ? p[7] - p[3] : p[5] - p[1];
    if (Math.hypot(dx, dy) < 1e-9 * scale) {
      dx = p[6] - p[0];
      dy = p[7] - p[1];
    }
  }
  const length = Math.hypot(dx, dy);
  return length > 0 ? [dx / length, dy / length] : [1, 0];
}
function chordCount(p, tolerance, maxTurn) {
  const ax = p[0] - 2 * p[2] + p[4];
  const ay = p[1] - 2 * p[3] + p[5];
  const bx = p[2] - 2 * p[4] + p[6];
  const by = p[3] - 2 * p[5] + p[7];
  const bend = Math.max(Math.hypot(ax, ay), Math.hypot(bx, by));
  const legs = [p[2] - p[0], p[3] - p[1], p[4] - p[2], p[5] - p[3], p[6] - p[4], p[7] - p[5]];
  let turn = 0;
  let px = 0;
  let py = 0;
  let length = 0;
  for (let i = 0; i < 6; i += 2) {
    const l = Math.hypot(legs[i], legs[i + 1]);
    length += l;
    if (l < 1e-12) continue;
    if (px !== 0 || py !== 0) turn += Math.abs(Math.atan2(px * legs[i + 1] - py * legs[i], px * legs[i] + py * legs[i + 1]));
    px = legs[i];
    py = legs[i + 1];
  }
  if (length < 1e-9) return 0;
  const byBend = Math.ceil(Math.sqrt(0.75 * bend / tolerance));
  const byTurn = Math.ceil(turn * 180 / Math.PI / maxTurn);
  const byLength = Math.max(1, Math.ceil(length / (tolerance * 0.5)));
  return Math.min(512, Math.max(1, byBend, Math.min(byTurn, byLength)));
}
function finish(xy, arrive, leave, straight, closed) {
  const keep = [];
  const n = straight.length;
  for (let i = 0; i < n; i++) {
    const last = keep[keep.length - 1];
    if (last !== void 0 && xy[2 * i] === xy[2 * last] && xy[2 * i + 1] === xy[2 * last + 1]) mergeInto(last, i);
    else keep.push(i);
  }
  function mergeInto(a, b) {
    leave[2 * a] = leave[2 * b];
    leave[2 * a + 1] = leave[2 * b + 1];
    straight[a] = straight[a] & 1 | straight[b] & 2;
  }
  if (closed) {
    while (keep.length > 1) {
      const first = keep[0];
      const last = keep[keep.length - 1];
      if (xy[2 * first] !== xy[2 * last] || xy[2 * first + 1] !== xy[2 * last + 1]) break;
      arrive[2 * first] = arrive[2 * last];
      arrive[2 * first + 1] = arrive[2 * last + 1];
      straight[first] = straight[first] & 2 | straight[last] & 1;
      keep.pop();
    }
  }
  const m = keep.length;
  const out = { xy: new Float64Array(2 * m), tangents: new Float64Array(4 * m), closed };
  for (let k = 0; k < m; k++) {
    const i = keep[k];
    const before = keep[(k + m - 1) % m];
    const after = keep[(k + 1) % m];
    const x = xy[2 * i];
    const y = xy[2 * i + 1];
    out.xy[2 * k] = x;
    out.xy[2 * k + 1] = y;
    let a = [arrive[2 * i], arrive[2 * i + 1]];
    let l = [leave[2 * i], leave[2 * i + 1]];
    let line = straight[i];
    if (Number.isNaN(a[0])) {
      a = closed ? unit(x - xy[2 * before], y - xy[2 * before + 1]) : l;
      line |= 1;
    }
    if (Number.isNaN(l[0])) {
      l = closed ? unit(xy[2 * after] - x, xy[2 * after + 1] - y) : a;
      line |= 2;
    }
    const turn = Math.abs(Math.atan2(a[0] * l[1] - a[1] * l[0], a[0] * l[0] + a[1] * l[1])) * 180 / Math.PI;
    if (turn < (line === 3 ? SMOOTH_LINES_DEGREES : SMOOTH_NODE_DEGREES)) {
      const t = line === 1 ? a : line === 2 ? l : unit(a[0] + l[0], a[1] + l[1]);
      a = t;
      l = t;
    }
    out.tangents.set([a[0], a[1], l[0], l[1]], 4 * k);
  }
  return out;
}
function unit(x, y) {
  const length = Math.hypot(x, y);
  return length > 0 ? [x / length, y / length] : [1, 0];
}
var SMOOTH_NODE_DEGREES, SMOOTH_LINES_DEGREES, TangentIndex;
var init_flatten = __esm({
  "core/src/outline/flatten.ts"() {
    "use strict";
    init_lattice();
    init_path();
    SMOOTH_NODE_DEGREES = 8;
    SMOOTH_LINES_DEGREES = 1;
    TangentIndex = class {
      constructor(lattice) {
        this.lattice = lattice;
      }
      lattice;
      at = /* @__PURE__ */ new Map();
      add(flat) {
        const n = flat.xy.length / 2;
        for (let i = 0; i < n; i++) {
          const key = latticeKey(flat.xy[2 * i], flat.xy[2 * i + 1], this.lattice);
          this.at.set(key, this.at.has(key) ? null : flat.tangents.subarray(4 * i, 4 * i + 4));
        }
      }
      /** The four tangent numbers stored for the point (a view), or undefined when the point is new or shared. */
      find(x, y) {
        return this.at.get(latticeKey(x, y, this.lattice)) ?? void 0;
      }
    };
  }
});

// core/src/outline/polygon.ts
function doubleArea(xy) {
  let sum = 0;
  const n = xy.length;
  for (let i = 0, j = n - 2; i < n; j = i, i += 2) sum += xy[j] * xy[i + 1] - xy[i] * xy[j + 1];
  return sum;
}
function winding(rings, x, y) {
  let w = 0;
  for (const { xy } of rings) {
    const n = xy.length;
    for (let i = 0, j = n - 2; i < n; j = i, i += 2) {
      const y0 = xy[j + 1];
      const y1 = xy[i + 1];
      if (y0 <= y === y1 <= y) continue;
      const side = (xy[i] - xy[j]) * (y - y0) - (x - xy[j]) * (y1 - y0);
      if (y1 > y0 ? side > 0 : side < 0) w += y1 > y0 ? 1 : -1;
    }
  }
  return w;
}
function flattenMember(member, tolerance, lattice) {
  const flats = member.paths.filter((path) => path.closed).map((path) => flattenPath(path, { tolerance, lattice })).filter((flat) => flat.xy.length >= 6);
  const total = flats.reduce((sum, flat) => sum + doubleArea(flat.xy), 0);
  return total < 0 ? flats.map(reverseFlat) : flats;
}
function reverseFlat(flat) {
  const n = flat.xy.length / 2;
  const xy = new Float64Array(2 * n);
  const tangents = new Float64Array(4 * n);
  for (let i = 0; i < n; i++) {
    const j = n - 1 - i;
    xy[2 * i] = flat.xy[2 * j];
    xy[2 * i + 1] = flat.xy[2 * j + 1];
    const t = flat.tangents.subarray(4 * j, 4 * j + 4);
    tangents.set([-t[2], -t[3], -t[0], -t[1]], 4 * i);
  }
  return { xy, tangents, closed: flat.closed };
}
function regionPolygons(region, tolerance, lattice) {
  const flats = region.members.flatMap((member) => flattenMember(member, tolerance, lattice));
  return cleanPolygons(flats, lattice);
}
function cleanPolygons(flats, lattice) {
  const index = new TangentIndex(lattice);
  for (const flat of flats) index.add(flat);
  let rings = flats.filter((flat) => flat.xy.length >= 6).map((flat) => Array.from(flat.xy));
  for (let pass = 0; pass < 6; pass++) {
    const united = unite(rings, pass === 0 ? "NonZero" : "Positive", lattice);
    if (pass > 0 && sameRings(united, rings)) break;
    rings = united.map((ring) => thin(ring, lattice)).filter((ring) => Math.abs(doubleArea(ring)) / 2 > DUST);
  }
  let apart = separateTouching(rings, lattice);
  for (let hair = 4e-3; hair < 0.05 && !areSimple(apart); hair *= 2) {
    rings = open(rings, hair, lattice);
    apart = separateTouching(rings, lattice);
  }
  rings = apart;
  return { rings: rings.map((ring) => withTangents(ring, index)), lattice };
}
function unite(rings, rule, lattice) {
  if (rings.length === 0) return [];
  const { CrossSection } = manifold();
  return withScope((own) => {
    const section = own(new CrossSection(rings.map(toPairs), rule));
    return section.toPolygons().map((ring) => ring.flatMap(([x, y]) => [snap(x, lattice), snap(y, lattice)]));
  });
}
function open(rings, distance, lattice) {
  const { CrossSection } = manifold();
  return withScope((own) => {
    const section = own(new CrossSection(rings.map(toPairs), "Positive"));
    const grown = own(own(section.offset(-distance, "Miter", 3)).offset(distance, "Miter", 3));
    const out = grown.toPolygons().map((ring) => ring.flatMap(([x, y]) => [snap(x, lattice), snap(y, lattice)]));
    return out.map((ring) => thin(ring, lattice)).filter((ring) => Math.abs(doubleArea(ring)) / 2 > DUST);
  });
}
function areSimple(rings) {
  const sides = [];
  for (const ring of rings) {
    const n = ring.length;
    for (let i = 0; i < n; i += 2) sides.push(ring[i], ring[i + 1], ring[(i + 2) % n], ring[(i + 3) % n]);
  }
  const count = sides.length / 4;
  const left = (i) => Math.min(sides[4 * i], sides[4 * i + 2]);
  const order = Array.from({ length: count }, (_, i) => i).sort((i, j) => left(i) - left(j));
  const turn = (i, x, y) => Math.sign((sides[4 * i + 2] - sides[4 * i]) * (y - sides[4 * i + 1]) - (sides[4 * i + 3] - sides[4 * i + 1]) * (x - sides[4 * i]));
  const strictlyWithin = (i, x, y) => turn(i, x, y) === 0 && (x - sides[4 * i]) * (x - sides[4 * i + 2]) + (y - sides[4 * i + 1]) * (y - sides[4 * i + 3]) < 0;
  let active = [];
  for (const i of order) {
    const [x0, y0, x1, y1] = sides.slice(4 * i, 4 * i + 4);
    const start = Math.min(x0, x1);
    active = active.filter((j) => Math.max(sides[4 * j], sides[4 * j + 2]) >= start);
    for (const j of active) {
      const [u0, v0, u1, v1] = sides.slice(4 * j, 4 * j + 4);
      if (Math.min(v0, v1) > Math.max(y0, y1) || Math.max(v0, v1) < Math.min(y0, y1)) continue;
      if (turn(i, u0, v0) * turn(i, u1, v1) < 0 && turn(j, x0, y0) * turn(j, x1, y1) < 0) return false;
      if (strictlyWithin(i, u0, v0) || strictlyWithin(i, u1, v1) || strictlyWithin(j, x0, y0) || strictlyWithin(j, x1, y1)) return false;
      if (x0 === u0 && y0 === v0 && x1 === u1 && y1 === v1 || x0 === u1 && y0 === v1 && x1 === u0 && y1 === v0) return false;
    }
    active.push(i);
  }
  return true;
}
function sameRings(a, b) {
  const points = (rings) => rings.reduce((sum, ring) => sum + ring.length, 0);
  const area2 = (rings) => rings.reduce((sum, ring) => sum + doubleArea(ring), 0);
  return a.length === b.length && points(a) === points(b) && Math.abs(area2(a) - area2(b)) < 1e-9;
}
function thin(ring, lattice) {
  const near = (MIN_STEPS * lattice) ** 2;
  const out = [];
  for (let i = 0; i < ring.length; i += 2) {
    const k = out.length;
    if (k >= 2 && (ring[i] - out[k - 2]) ** 2 + (ring[i + 1] - out[k - 1]) ** 2 < near) continue;
    out.push(ring[i], ring[i + 1]);
  }
  while (out.length > 6 && (out[0] - out[out.length - 2]) ** 2 + (out[1] - out[out.length - 1]) ** 2 < near) out.length -= 2;
  for (let i = 0; i < out.length && out.length > 6; ) {
    const n = out.length;
    const [ax, ay] = [out[(i + n - 2) % n], out[(i + n - 1) % n]];
    const [bx, by] = [out[i], out[i + 1]];
    const [cx, cy] = [out[(i + 2) % n], out[(i + 3) % n]];
    const cross = (bx - ax) * (cy - by) - (by - ay) * (cx - bx);
    const dot = (bx - ax) * (cx - bx) + (by - ay) * (cy - by);
    if (dot < 0 && Math.abs(cross) < 1e-3 * -dot) {
      out.splice(i, 2);
      i = Math.max(0, i - 4);
    } else i += 2;
  }
  return out;
}
function separateTouching(source, lattice) {
  const rings = source.map((ring) => ring.slice());
  const seen = /* @__PURE__ */ new Map();
  rings.forEach((ring, r) => {
    for (let i = 0; i < ring.length; i += 2) {
      const key = latticeKey(ring[i], ring[i + 1], lattice);
      const list = seen.get(key);
      if (list) list.push([r, i]);
      else seen.set(key, [[r, i]]);
    }
  });
  for (const places of seen.values()) {
    if (places.length < 2) continue;
    for (const [r, i] of places) {
      const ring = rings[r];
      const n = ring.length;
      const [x, y] = [ring[i], ring[i + 1]];
      const inX = x - ring[(i + n - 2) % n];
      const inY = y - ring[(i + n - 1) % n];
      const outX = ring[(i + 2) % n] - x;
      const outY = ring[(i + 3) % n] - y;
      const li = Math.hypot(inX, inY);
      const lo = Math.hypot(outX, outY);
      let bx = -inY / li - outY / lo;
      let by = inX / li + outX / lo;
      const lb = Math.hypot(bx, by);
      if (lb < 1e-6) {
        bx = -inX / li;
        by = -inY / li;
      } else {
        bx /= lb;
        by /= lb;
      }
      ring[i] = snap(x + bx * 12 * lattice, lattice);
      ring[i + 1] = snap(y + by * 12 * lattice, lattice);
    }
  }
  return rings;
}
function withTangents(ring, index) {
  const n = ring.length / 2;
  const xy = Float64Array.from(ring);
  const tangents = new Float64Array(4 * n);
  for (let i = 0; i < n; i++) {
    const p = (i + n - 1) % n;
    const q = (i + 1) % n;
    const a = chord(xy, p, i);
    const l = chord(xy, i, q);
    const known = index.find(xy[2 * i], xy[2 * i + 1]);
    if (!known) {
      tangents.set([...a, ...l], 4 * i);
      continue;
    }
    const flip = known[0] * a[0] + known[1] * a[1] + known[2] * l[0] + known[3] * l[1] < 0;
    const arrive = flip ? [-known[2], -known[3]] : [known[0], known[1]];
    const leave = flip ? [-known[0], -known[1]] : [known[2], known[3]];
    const agrees = (t, c) => t[0] * c[0] + t[1] * c[1] > 0.85;
    const okA = agrees(arrive, a);
    const okL = agrees(leave, l);
    tangents.set([...okA ? arrive : a, ...okL ? leave : l], 4 * i);
  }
  return { xy, tangents, closed: true };
}
function chord(xy, i, j) {
  const dx = xy[2 * j] - xy[2 * i];
  const dy = xy[2 * j + 1] - xy[2 * i + 1];
  const length = Math.hypot(dx, dy);
  return [dx / length, dy / length];
}
var toPairs, DUST, MIN_STEPS;
var init_polygon = __esm({
  "core/src/outline/polygon.ts"() {
    "use strict";
    init_manifold();
    init_flatten();
    init_lattice();
    toPairs = (xy) => {
      const out = [];
      for (let i = 0; i < xy.length; i += 2) out.push([xy[i], xy[i + 1]]);
      return out;
    };
    DUST = 1e-4;
    MIN_STEPS = 24;
  }
});

// core/fonts/facts.ts
var FACE_FACTS = {
  "archivo-bold": {
    bytes: 120856,
    sha256: "fb0d3a7cf205466ed1147911f81dc80788b8e42b8b3b7602f25937a9224654f6",
    glyphs: 823,
    axes: [],
    characters: "d,20-7e,a0-17f,18f,192,19d,1a0-1a1,1af-1b0,1c4-1dc,1e6-1e7,1ea-1eb,1fa-21b,22a-22d,230-233,237,259,272,2b9-2ba,2bc,2c6-2c7,2c9,2d8-2dd,300-304,306-30c,30f,311-313,31b,323-324,326-328,32e,331,335-338,394,3a9,3bc,3c0,1e24-1e25,1e62-1e63,1e6c-1e6d,1e80-1e85,1e9e,1ea0-1ef9,2009,2010-2011,2013-2015,2017-201a,201c-201e,2020-2022,2026,2030,2032-2033,2039-203a,203e,2044,2052,2070,2074-2079,207f-2089,2099,20a1,20a3-20a4,20a6-20a7,20a9,20ab-20ad,20b1-20b2,20b5,20b9-20ba,20bc-20bd,2105,2113,2116-2117,2122,2126,212e,2190-2195,21a8,2202,2205-2206,220f,2211-2212,2215,2219-221a,221e-221f,2229,222b,2248,2260-2261,2264-2265,2302,2310,2320-2321,25ca,27e8-27e9,e0ff,effd,f000,fb01-fb02,feff"
  },
  "jost-bold": {
    bytes: 61612,
    sha256: "91be837d35c480fed6cf2eeab95f78f5d868dbce9bdfcbfcc065bd053be47f1b",
    glyphs: 535,
    axes: [],
    characters: "0,d,20-7e,a0-17e,192,212-213,218-21b,237,2c6-2c7,2d8-2dd,300-304,306-308,30a-30c,312,326-328,394,3a9,3bc,3c0,400-401,403,40c-40e,410-451,453,45c-45e,1e80-1e89,1e9e,1ef2-1ef3,2010,2012-2014,2018-201a,201c-201e,2020-2022,2026,2030-2031,2039-203a,203d,2044,2070,2074-2079,2080-2089,20ac,20bd,2122,2150-215e,2202,2205,220f,2211-2212,2215,2219-221a,221e,222b,2248,2260,2264-2265,25ca,ff10-ff19"
  },
  fredoka: {
    bytes: 49900,
    sha256: "021e30b2bb317fa3618bad84289179f93c9607220cbf9a77ff3f83d7688e43a8",
    glyphs: 327,
    axes: [],
    characters: "20-7e,a0-ac,ae-ff,131,141-142,152-153,160-161,178,17d-17e,192,2c6-2c7,2d8-2dd,300-304,306-308,30a-30c,327-328,5b0-5bc,5be-5bf,5c1-5c2,5c7,5d0-5ea,5f3-5f4,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,20aa,20ac,2122,2212,fb01-fb02,fb2a-fb36,fb38-fb3c,fb3e,fb40-fb41,fb43-fb44,fb46-fb4b"
  },
  "alfa-slab": {
    bytes: 92956,
    sha256: "5973b4362364338163f3e44d858e466b8ed4735100e54786cb2349c3adb7eb6f",
    glyphs: 731,
    axes: [],
    characters: "0,d,20-7e,a0-17e,18f,192,1a0-1a1,1af-1b0,1c4-1cc,1e6-1e7,1ea-1eb,1fa-21b,22a-22d,230-233,237,259,2bb-2bc,2be-2bf,2c6-2cc,2d8-2dd,300-304,306-30c,30f,311-312,31b,323-324,326-328,32e,331,335,3c0,1e08-1e09,1e0c-1e0f,1e14-1e17,1e1c-1e1d,1e20-1e21,1e24-1e25,1e2a-1e2b,1e2e-1e2f,1e36-1e37,1e3a-1e3b,1e42-1e49,1e4c-1e53,1e5a-1e5b,1e5e-1e69,1e6c-1e6f,1e78-1e7b,1e80-1e85,1e8e-1e8f,1e92-1e93,1e97,1e9e,1ea0-1ef9,2007-200b,2010,2012-2015,2018-201a,201c-201e,2020-2022,2026,2030,2032-2033,2039-203a,2044,2070,2074-2079,2080-2089,20a1,20a3-20a4,20a6-20a7,20a9,20ab-20ad,20b1-20b2,20b5,20b9-20ba,20bc-20bd,2113,2116,2122,2126,212e,2202,2205-2206,220f,2211-2212,2215,2219-221a,221e,222b,2248,2260,2264-2265,25ca,fb01-fb02"
  },
  "im-fell-italic": {
    bytes: 240468,
    sha256: "eb15ebfa2c302132e125f28f4ccdca2226ec5129b65466eeefa91b4fe055abb1",
    glyphs: 384,
    axes: [],
    characters: "20-7e,a0-107,10c-113,116-11b,11e-11f,122-123,12a-12b,12e-131,133,136-137,139-13e,141-148,14c-14d,150-15b,15e-165,16a-16b,16e-17f,192,218-21b,2c6-2c7,2c9,2d8-2dd,326,37e,3bc,1e80-1e85,1ef2-1ef3,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,20ac,2122,2153-2154,215b-215e,2215,2219,261c,261e,e004-e007,e009-e015,e017,e01a-e01c,e021,e028,e02e,e040-e041,e047,e054,fb00-fb05"
  },
  "abril-fatface": {
    bytes: 58448,
    sha256: "583d89b4dee24140d8c2228b55a5b71668c172c06ee2a7c71e1d1892b2eb01d7",
    glyphs: 407,
    axes: [],
    characters: "20-7e,a0-17f,192,1fa-1ff,218-21b,237,2bc,2c6-2c7,2c9,2d8-2dd,394,3a9,3bc,3c0,1e80-1e85,1ef2-1ef3,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,2074,20ac,2116,2122,2126,2202,2206,220f,2211-2212,2215,2219-221a,221e,222b,2248,2260,2264-2265,25ca,fb00-fb04"
  },
  "bodoni-moda-italic": {
    bytes: 62452,
    sha256: "3e7c49444f4363f6042b88f60e37bdab245df080fdfd093cf2daf0db07cec95c",
    glyphs: 562,
    axes: [],
    characters: "d,20-7e,a0-ac,ae-17f,192,212-213,218-21b,237,2c6-2c7,2d8-2dd,300-304,306-308,30a-30c,311-312,323,326-328,394,3a9,3bc,3c0,1e80-1e89,1e9e,1ef2-1ef3,2000-200b,2010-2015,2018-201a,201c-201e,2020-2022,2026,2030-2031,2039-203a,203d-203e,2044,2074,20ac,2116,2122,2202,2205,220f,2211-2212,2215,2219-221a,221e,222b,2248,2260,2264-2265,25ca,2761,f8e8-f8e9,fb01-fb02"
  },
  fraunces: {
    bytes: 194036,
    sha256: "eb9fc5a87461d756b5286384a0eaf1b44a3acda6f01259e0fdbb3c241b3731a3",
    glyphs: 245,
    axes: ["opsz", "wght", "SOFT", "WONK"],
    characters: "20-7e,a0-ff,131,152-153,2bc,2c6,2da,2dc,300-301,303-304,308,2013-2014,2018-201a,201c-201e,2022,2026,2032-2033,2039-203a,2044,20ac,2122,2212,2215"
  },
  anybody: {
    bytes: 130548,
    sha256: "a6af00827935521ff56a8faee6f23d872f9ea03ce70e2eb1cba80cc3e6a0bc89",
    glyphs: 275,
    axes: ["wdth", "wght"],
    characters: "d,20-7e,a0-ff,102,131,152-153,2bc,2c6,2da,2dc,300-301,303-304,308-309,323,2009,200b,2013-2014,2018-201a,201c-201e,2022,2026,2039-203a,2044,20ac,2122,2212,2215"
  },
  pacifico: {
    bytes: 315408,
    sha256: "4dac9db3fa9ca072f7861fd916bf04bdceac6069d0f3a886f5e523d922e918f1",
    glyphs: 1514,
    axes: [],
    characters: "0,d,20-7e,a0-131,134-17e,18f,192,1a0-1a1,1af-1b0,1c4-1cc,1e6-1e7,1ea-1eb,1fa-21b,22a-22d,230-233,237,259,2bc,2c6-2c7,2c9,2d8-2dd,300-304,306-30c,30f,311-312,31b,323-324,326-328,32e,331,394,3a9,3bc,3c0,400-45f,462-463,46a-46b,472-475,48a-4a5,4a8-4ff,510-513,51a-51d,524-529,52e-52f,1e80-1e85,1e9e,1ea0-1ef9,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,2074,20a1,20a3-20a4,20a6-20a7,20a9,20ab-20ae,20b1-20b2,20b4-20b5,20b8-20ba,20bc-20bd,2116,2122,2202,220f,2211-2212,2215,2219-221a,221e,222b,2248,2260,2264-2265,25ca,fb01-fb02"
  },
  "kaushan-script": {
    bytes: 183972,
    sha256: "e4e5d5ae35aeef6d2a1f8ba99bad6d716cab67eb9a4cbf349b670008e2c086f5",
    glyphs: 402,
    axes: [],
    characters: "0,d,20-7e,a0-17e,18f,192,1ea-1eb,1fa-1ff,218-21b,237,259,2bc,2c6-2c7,2d8-2dd,3bc,1e44-1e45,1e80-1e85,1ebc-1ebd,1ef2-1ef3,1ef8-1ef9,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,2074,2081-2084,20ac,2122,2153-2154,2212,2215,2219,2260,2264-2265,f6c3,fb00-fb04"
  },
  knewave: {
    bytes: 31280,
    sha256: "80e6c7da48890789171f46f07f97e207bb04c1299b663edc506f951100f0f124",
    glyphs: 210,
    axes: [],
    characters: "20-7e,a0-a3,a5,a8-a9,ab,ae,b0,b4,b7-b8,ba-bb,bf-f6,f8-ff,152-153,160-161,178,17d-17e,192,2c6-2c7,2d8-2dd,2013-2014,2018-201a,201c-201e,2020-2022,2026,2039-203a,2044,20ac,2122,2212"
  },
  "unifraktur-cook": {
    bytes: 36884,
    sha256: "b9ed8da80463792a29675199b0f6580871025c35b2c539cad7d5de050d216a0c",
    glyphs: 249,
    axes: [],
    characters: "20-7e,a0-f6,f8-ff,152-153,160-161,178,17d-17f,192,2c6-2c7,2da,2dc,300-304,308,30a,30c,327,1e9e,200c-200d,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,20ac,20b0,2114,2116,2122,2133,338f,a75b,f520,f522,fb00-fb05"
  },
  "saira-stencil": {
    bytes: 101596,
    sha256: "29271c256d168394f1aa73fb4da3c57d1c2f48e38acd01f824c636c9932150cc",
    glyphs: 852,
    axes: [],
    characters: "0,d,20-7e,a0-17f,18f,192,19d,1a0-1a1,1af-1b0,1c4-1dc,1e6-1e7,1ea-1eb,1fa-21b,22a-22d,230-233,237,259,272,2b9-2ba,2bc,2c6-2c7,2c9,2d8-2dd,300-304,306-30c,30f,311-313,31b,323-324,326-328,32e,331,335-338,394,3a9,3bc,3c0,1e24-1e25,1e62,1e6c-1e6d,1e80-1e85,1e9e,1ea0-1ef9,2009,2010-2011,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2032-2033,2039-203a,2044,2052,2070,2074-2079,207f-2089,2099,20a1,20a3-20a4,20a6-20a7,20a9,20ab-20ad,20b1-20b2,20b5,20b9-20ba,20bc-20bd,2113,2116-2117,2122,2126,212e,2202,2205-2206,220f,2211-2212,2215,2219-221a,221e,222b,2248,2260,2264-2265,25ca,27e8-27e9,e0ff,effd,f000,f8ff,fb01-fb02,feff"
  },
  monoton: {
    bytes: 49908,
    sha256: "1565b395f454d5c2642d0f411030051e7342fbaf6d5bfc5da5899c47ecd3511e",
    glyphs: 371,
    axes: [],
    characters: "0,2,9-a,d,20-7e,a0-ac,ae,b0-107,10a-11b,11e-148,14a-154,156-173,176-17e,192,1c4-1c5,218-21b,237,2c6-2c7,2d8-2dd,307,30f,311,326,3a9,3bc,3c0,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,2074,20ac,2122,2202,2206,220f,2211-2212,221a,221e,222b,2248,2260,2264-2265,25ca,f8ff,fb01-fb02"
  },
  "courier-prime": {
    bytes: 69944,
    sha256: "1170ca4279b38da20d390544636462ff1c76d744b15fe5db43568424d5690f8f",
    glyphs: 400,
    axes: [],
    characters: "d,20-7e,a0-137,139-148,14a-17e,192,218-21b,237,2c6-2c7,2d8-2dd,326,394,3a9,3bc,3c0,1e80-1e85,1ef2-1ef3,2011,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2032-2033,2039-203a,2044,2074,20a3,20a9,20ac,2122,2202,220f,2211-2212,2215,221a,221e,222b,2248,2260,2264-2265,25ca,fb01-fb02"
  },
  "cinzel-decorative": {
    bytes: 61120,
    sha256: "fc881730da002ba9dcb05c2c39a0a7e5d09c6d9f05e7e80384f2c7688fda304f",
    glyphs: 353,
    axes: [],
    characters: "20-7e,a1-b4,b6-107,10a-113,116-11b,11e-123,126-127,12a-12b,12e-133,136-137,139-148,14a-14d,150-15b,15e-167,16a-16b,16e-17e,192,218-21b,2c6-2c7,2d8-2dd,326,394,3a9,3bc,3c0,1e80-1e85,1ef2-1ef3,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,20ac,2122,2202,220f,2211-2212,221a,221e,222b,2248,2260,2264-2265,25ca,fb01-fb02"
  },
  lalezar: {
    bytes: 280416,
    sha256: "cc900337cf63c4546880b30b2a51a038085ff7966a56b1c7fb04e7c20d7d2e13",
    glyphs: 1196,
    axes: [],
    characters: "20-7e,a0-a9,ab-ac,ae-b1,b4,b6-b8,bb,bf-107,10a-113,116-11b,11e-123,126-12b,12e-131,136-137,139-13e,141-148,14a-14d,150-15b,15e-16b,16e-17e,189,1a0-1a1,1af-1b0,1cd-1dc,1de-1df,1e6-1e7,1fe-1ff,218-21b,229-22b,243-244,24c,268,289,2c6-2c7,2d8-2dd,300-304,306-30c,312,31b,323,326-328,32d,335-338,601,603,60b-60c,615,61b,61f,621-63a,640-656,658,660-673,679,67e,686,688,691,698,6a1,6a4,6a9,6af,6ba,6be,6c0-6c3,6cc,6d2-6d4,6d6,6f0-6f9,1e04-1e05,1e0c-1e0f,1e12-1e13,1e24-1e25,1e2e-1e2f,1e36-1e37,1e3c-1e3f,1e44-1e47,1e4a-1e4d,1e50-1e53,1e62-1e63,1e6c-1e71,1e80-1e85,1e92-1e93,1ea0-1ef9,2002-2003,2009,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,20ac,2122,2202,2205,220f,2211-2212,221a,221e,222b,2248,2260,2264-2265,25ca,25cc,fb01-fb02,fb51,fb57-fb59,fb67-fb69,fb6b-fb6d,fb7b-fb7d,fb89,fb8b,fb8d,fb8f-fb91,fb93-fb95,fb9f,fba5,fba7-fba9,fbab-fbad,fbaf,fbb1-fbb9,fbbd-fbbe,fbf9-fbfa,fbfd-fbff,fc02-fc04,fc08-fc0a,fc0e-fc10,fc12-fc14,fc1f,fc21,fc25,fc31-fc32,fc35-fc36,fc3d-fc3e,fc42-fc44,fc4e-fc50,fc58,fc64-fc6e,fc70-fc7c,fc7e,fc83-fc84,fc86-fc87,fc8a-fc8f,fc91-fc94,fc9a-fc9b,fc9f-fca0,fca4-fca6,fcb0,fcb3,fcb7,fccc,fcd5-fcd6,fcdd-fcea,fcee-fcf1,fcfb-fcff,fd03,fd05-fd08,fd0c-fd10,fd17-fd1a,fd1f-fd20,fd22-fd24,fd28-fd2c,fd30-fd32,fd3e-fd3f,fdf2,fdfa,fdfc,fe82,fe84,fe86,fe88,fe8a-fe8c,fe8e,fe90-fe92,fe94,fe96-fe98,fe9a-fe9c,fe9e-fea0,fea2-fea4,fea6-fea8,feaa,feac,feae,feb0,feb2-feb4,feb6-feb8,feba-febc,febe-fec0,fec2-fec4,fec6-fec8,feca-fecc,fece-fed0,fed2-fed4,fed6-fed8,feda-fedc,fede-fee0,fee2-fee4,fee6-fee8,feea-feec,feee,fef0,fef2-fefc"
  },
  "suez-one": {
    bytes: 68152,
    sha256: "2918da136a51bf8efd783d3d916cbe6c2cf7a3f6de034ee631daa0d0084a3c4f",
    glyphs: 460,
    axes: [],
    characters: "20-7d,a0-107,10a-113,116-11b,11e-123,126-127,12a-12b,12e-131,136-137,139-13e,141-148,14a-14d,150-15b,15e-167,16a-16b,16e-17e,192,218-21b,2c6-2c7,2d8-2dd,300-304,306-308,30a-30c,312,326-328,335-338,3c0,5b0-5bc,5be,5c1-5c2,5c7,5d0-5ea,5f3-5f4,1e80-1e85,1ef2-1ef3,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,20aa,20ac,20ba,20bd,2113,2122,2126,212e,2202,2206,220f,2211-2212,2215,2219-221a,221e,222b,2248,2260,2264-2265,25ca,fb01-fb02,fb2a-fb36,fb38-fb3c,fb3e,fb40-fb41,fb43-fb44,fb46-fb4b"
  },
  "yatra-one": {
    bytes: 267200,
    sha256: "b6ce4b3060c9fb05cbbaafe38fa0ad537de477e075bbc1a580bd7f28a65f531f",
    glyphs: 1007,
    axes: [],
    characters: "0,d,20-7e,a0-107,10c-113,116-11b,11e-11f,122-123,12a-12b,12e-131,136-137,139-13e,141-148,14c-14d,150-15b,15e-165,16a-16b,16e-173,178-17e,192,218-21b,2bc,2c6-2c7,2c9,2d8-2dd,3c0,901-90d,90f-911,913-928,92a-933,935-939,93c-949,94b-94d,950,958-95e,960-970,972,200b-200d,2013-2014,2018-201a,201c-201e,2020-2022,2026,2030,2039-203a,2044,20a8,20ac,20b9-20ba,20bd,2113,2122,2126,212e,2202,2206,220f,2211-2212,2215,2219-221a,221e,222b,2248,2260,2264-2265,25ca,25cc,fb00-fb04"
  },
  "dela-gothic": {
    bytes: 72328,
    sha256: "d87709aea0d7e3b9db77ed4bbdd4d8ec3e392602c25407b577e1334bb36c6207",
    glyphs: 584,
    axes: [],
    characters: "20-7e,a1-ff,2013-2014,2018-2019,201c-201d,2022,2026,2039-203a,20ac,3000-3003,3005-3012,3014-3019,301c-301d,301f,3031-3035,303b-303d,3041-3094,3099-309a,309d-309e,30a0-30fe,4e00,4e03,4e07,4e09-4e0b,4e2d,4e5d,4e8c,4e94,4eba,4f11,4f9b,5149,5165,5168,516b,516d,5186,51ac,51fa,5317,5341,5343,5357,53cb,53e3-53e4,53f3,5409,548c,55b6,56db,571f,5834,590f,591c,5922,5927,592a,5b50,5b57,5b89,5bff,5c0f,5c71,5cb8,5ddd,5de5-5de6,5e02,5e73-5e74,5e97,5f71,5fc3,610f,611b,623f,6587,6599,65b0,65e5,661f,6625,6642,6708,6728,6771,677e-677f,679c,685c,696d,697d,6a4b,6b62,6c34,6c37,6ce2,6ce8,6d77,6e2f,6e7e,706b,706f,7121,713c,7269,753a,767e,770b,796d,7981,798f,79cb,7a7a,7af9,7b1b,821e,8239,82b1,8336,83d3,83dc,8679,897f,9152,91ce,91d1,96e8,96ea,97f3,98a8,9b5a,9db4,9f13,ff01,ff05-ff06,ff08-ff09,ff0c-ff0e,ff10-ff1b,ff1d,ff1f"
  }
};

// core/fonts/files.ts
var OFL = (name) => `licences/${name}-OFL.txt`;
var FACE_FILES = [
  { id: "archivo-bold", name: "Archivo Bold", file: "Archivo-Bold.ttf", kind: "grotesque", scripts: ["Latn"], licence: OFL("archivo") },
  { id: "jost-bold", name: "Jost Bold", file: "Jost-Bold.ttf", kind: "geometric", scripts: ["Latn", "Cyrl"], licence: OFL("jost") },
  { id: "fredoka", name: "Fredoka SemiBold", file: "Fredoka-SemiBold.ttf", kind: "rounded", scripts: ["Latn", "Hebr"], licence: OFL("fredoka") },
  { id: "alfa-slab", name: "Alfa Slab One", file: "AlfaSlabOne-Regular.ttf", kind: "slab serif", scripts: ["Latn"], licence: OFL("alfa-slab-one") },
  {
    id: "im-fell-italic",
    name: "IM Fell DW Pica Italic",
    file: "IMFellDWPica-Italic.ttf",
    kind: "old-style serif",
    scripts: ["Latn"],
    licence: OFL("im-fell-dw-pica")
  },
  { id: "abril-fatface", name: "Abril Fatface", file: "AbrilFatface-Regular.ttf", kind: "didone serif", scripts: ["Latn"], licence: OFL("abril-fatface") },
  {
    id: "bodoni-moda-italic",
    name: "Bodoni Moda Black Italic",
    file: "BodoniModa-BlackItalic.ttf",
    kind: "didone serif",
    scripts: ["Latn"],
    licence: OFL("bodoni-moda")
  },
  { id: "fraunces", name: "Fraunces (variable)", file: "Fraunces-Variable.ttf", kind: "variable", scripts: ["Latn"], licence: OFL("fraunces") },
  { id: "anybody", name: "Anybody (variable)", file: "Anybody-Variable.ttf", kind: "variable", scripts: ["Latn"], licence: OFL("anybody") },
  { id: "pacifico", name: "Pacifico", file: "Pacifico-Regular.ttf", kind: "script", scripts: ["Latn", "Cyrl"], licence: OFL("pacifico") },
  { id: "kaushan-script", name: "Kaushan Script", file: "KaushanScript-Regular.ttf", kind: "brush", scripts: ["Latn"], licence: OFL("kaushan-script") },
  { id: "knewave", name: "Knewave", file: "Knewave-Regular.ttf", kind: "brush", scripts: ["Latn"], licence: OFL("knewave") },
  { id: "unifraktur-cook", name: "UnifrakturCook", file: "UnifrakturCook-Bold.ttf", kind: "blackletter", scripts: ["Latn"], licence: OFL("unifrakturcook") },
  {
    id: "saira-stencil",
    name: "Saira Stencil One",
    file: "SairaStencilOne-Regular.ttf",
    kind: "stencil",
    scripts: ["Latn"],
    licence: OFL("saira-stencil-one")
  },
  { id: "monoton", name: "Monoton", file: "Monoton-Regular.ttf", kind: "multi-line", scripts: ["Latn"], licence: OFL("monoton") },
  { id: "courier-prime", name: "Courier Prime Bold", file: "CourierPrime-Bold.ttf", kind: "typewriter", scripts: ["Latn"], licence: OFL("courier-prime") },
  {
    id: "cinzel-decorative",
    name: "Cinzel Decorative Black",
    file: "CinzelDecorative-Black.ttf",
    kind: "decorative",
    scripts: ["Latn"],
    licence: OFL("cinzel-decorative")
  },
  { id: "lalezar", name: "Lalezar", file: "Lalezar-Regular.ttf", kind: "decorative", scripts: ["Arab", "Latn"], licence: OFL("lalezar") },
  { id: "suez-one", name: "Suez One", file: "SuezOne-Regular.ttf", kind: "slab serif", scripts: ["Hebr", "Latn"], licence: OFL("suez-one") },
  { id: "yatra-one", name: "Yatra One", file: "YatraOne-Regular.ttf", kind: "decorative", scripts: ["Deva", "Latn"], licence: OFL("yatra-one") },
  {
    id: "dela-gothic",
    name: "Dela Gothic One (subset)",
    file: "DelaGothicOne-Subset.ttf",
    kind: "grotesque",
    scripts: ["Hira", "Kana", "Hani", "Latn"],
    licence: OFL("dela-gothic-one")
  }
];

// core/fonts/catalogue.ts
var SHIPPED_FACES = FACE_FILES.map((face) => ({ ...face, ...FACE_FACTS[face.id] }));

// core/cli/io.ts
import { readFileSync, statSync, writeFileSync } from "node:fs";
import { dirname, extname, join } from "node:path";
import { fileURLToPath } from "node:url";
init_hash();

// core/src/font/face.ts
init_path();
var loading;
function loadHarfBuzz() {
  loading ??= import("harfbuzzjs");
  return loading;
}
var FontError = class extends Error {
  constructor(code, message, remedy) {
    super(message);
    this.code = code;
    this.remedy = remedy;
    this.name = "FontError";
  }
  code;
  remedy;
};
var MAX_FONT_BYTES = 96 * 1024 * 1024;
var MAX_SETTINGS = 24;
var OUTLINE_TRIALS = 400;
var FontFace = class _FontFace {
  constructor(hb, face, font, id, family, unitsPerEm, axes, glyphCount, characters) {
    this.hb = hb;
    this.face = face;
    this.font = font;
    this.id = id;
    this.family = family;
    this.unitsPerEm = unitsPerEm;
    this.axes = axes;
    this.glyphCount = glyphCount;
    this.characters = characters;
  }
  hb;
  face;
  font;
  id;
  family;
  unitsPerEm;
  axes;
  glyphCount;
  characters;
  outlines = /* @__PURE__ */ new Map();
  settings = /* @__PURE__ */ new Map();
  /**
   * Parses a TrueType or OpenType font. `id` should be its SHA-256. The bytes are copied into the engine.
   * Throws a FontError with a remedy when the file is no font or has no outlines.
   */
  static async open(bytes, id) {
    const hb = await loadHarfBuzz();
    const problem = (message) => new FontError("unreadable", message, "Choose a TrueType or OpenType font file (.ttf or .otf).");
    if (bytes.length === 0) throw problem("The font file is empty.");
    if (bytes.length > MAX_FONT_BYTES) throw problem("The font is larger than 96 MB.");
    const tables = readTableDirectory(bytes);
    if (typeof tables === "string") throw problem(tables);
    for (const tag of ["head", "cmap", "maxp", "hhea", "hmtx"])
      if (!tables.has(tag)) throw problem(`The font file lacks its \u201C${tag}\u201D table: it is damaged or incomplete.`);
    if (!tables.has("glyf") && !tables.has("CFF ") && !tables.has("CFF2"))
      throw new FontError(
        "no-outlines",
        "The font holds pictures or bitmaps only, no outlines.",
        "Choose a font with outlines; colour-bitmap and bitmap fonts cannot become solids."
      );
    const glyphs2 = tables.get("maxp");
    if (glyphs2[1] < 6) throw problem("The font file\u2019s \u201Cmaxp\u201D table is cut short.");
    const face = new hb.Face(new hb.Blob(bytes.slice()), 0);
    if (!(face.upem >= 16 && face.upem <= 16384)) throw problem("The font file states no usable size of its em square.");
    const font = new hb.Font(face);
    const characters = new Set(face.collectUnicodes());
    if (characters.size === 0) throw problem("The font file maps no characters to glyphs.");
    const glyphCount = bytes[glyphs2[0] + 4] << 8 | bytes[glyphs2[0] + 5];
    const axes = Object.values(face.getAxisInfos()).map((axis) => ({
      tag: axis.tag,
      name: face.getName(axis.nameId, "en") || axis.tag,
      min: axis.min,
      default: axis.default,
      max: axis.max
    }));
    const family = face.getName(16, "en") || face.getName(1, "en") || "Unnamed font";
    const opened = new _FontFace(hb, face, font, id, family, face.upem, axes, glyphCount, characters);
    if (!opened.hasOutlines())
      throw new FontError(
        "no-outlines",
        "The font\u2019s glyphs have no outlines: its letters are colour pictures only, or empty.",
        "Choose a font with outlines; the plain version of a colour font usually has them."
      );
    return opened;
  }
  /** The same font with axes set; values outside an axis's range are moved to its end, unknown tags are ignored. */
  at(settings) {
    const used = this.axes.filter((axis) => Number.isFinite(settings[axis.tag])).map((axis) => ({ tag: axis.tag, value: Math.min(axis.max, Math.max(axis.min, settings[axis.tag])) }));
    if (used.length === 0) return this;
    const id = `${this.id}?${used.map(({ tag, value }) => `${tag}=${value}`).join("&")}`;
    const known = this.settings.get(id);
    if (known) return known;
    const font = new this.hb.Font(this.face);
    font.setVariations(used.map(({ tag, value }) => new this.hb.Variation(tag, value)));
    const set = new _FontFace(this.hb, this.face, font, id, this.family, this.unitsPerEm, this.axes, this.glyphCount, this.characters);
    if (this.settings.size >= MAX_SETTINGS) this.settings.delete(this.settings.keys().next().value);
    this.settings.set(id, set);
    return set;
  }
  /** Tags of all features that change which glyphs are shown (GSUB), each once, in the font's order. */
  get substitutions() {
    return [...new Set(this.face.getTableFeatureTags("GSUB"))];
  }
  /** The features with the names the font's maker gave them. */
  features() {
    const found = /* @__PURE__ */ new Map();
    this.face.getTableFeatureTags("GSUB").forEach((tag, index) => {
      if (found.get(tag)?.name) return;
      const label = /^(ss|cv)\d\d$/.test(tag) ? this.face.getFeatureNameIds("GSUB", index)?.uiLabelNameId : void 0;
      const name = label !== void 0 && label < 65535 ? this.face.getName(label, "en").trim().slice(0, 80) : "";
      found.set(tag, name ? { tag, name } : { tag });
    });
    return [...found.values()];
  }
  /** A name of the font's own (OpenType `name` table, e.g. 2 its style, 13 its licence) in English, or ''. */
  name(id) {
    return this.face.getName(id, "en").trim();
  }
  /** A copy of one of the font's tables; empty when it has none of that tag. */
  table(tag) {
    return this.face.referenceTable(tag)?.slice() ?? new Uint8Array();
  }
  /** Whether any of the glyphs its characters map to can be drawn. */
  hasOutlines() {
    let tried = 0;
    for (const code of this.characters) {
      const glyph = this.font.nominalGlyph(code);
      if (glyph === void 0 || glyph === 0) continue;
      if (this.font.glyphToPath(glyph) !== "") return true;
      if (++tried >= OUTLINE_TRIALS) break;
    }
    return false;
  }
  has(codePoint) {
    return this.characters.has(codePoint);
  }
  /** All code points the font maps to glyphs. */
  codePoints() {
    return this.characters;
  }
  /** Height of flat capitals in font units; measured on H where the font does not state it. */
  get capHeight() {
    const stated = this.font.getMetricPosition(this.hb.MetricsTag.CAP_HEIGHT);
    if (stated !== void 0 && stated > 0.2 * this.unitsPerEm) return stated;
    const h = this.font.nominalGlyph(72);
    const extents = h === void 0 ? void 0 : this.font.glyphExtents(h);
    return extents && extents.yBearing > 0 ? extents.yBearing : 0.7 * this.unitsPerEm;
  }
  /** Height of small letters without ascenders in font units; 0 for scripts that have none. */
  get xHeight() {
    const stated = this.font.getMetricPosition(this.hb.MetricsTag.X_HEIGHT);
    if (stated !== void 0 && stated > 0.1 * this.unitsPerEm) return stated;
    const x = this.font.nominalGlyph(120);
    return (x === void 0 ? void 0 : this.font.glyphExtents(x))?.yBearing ?? 0;
  }
  /** How far a glyph moves the pen, font units. */
  advance(glyph) {
    return this.font.glyphHAdvance(glyph);
  }
  /** Distance between baselines as the font wishes it, font units. */
  get lineHeight() {
    const { ascender, descender, lineGap } = this.font.hExtents();
    const height = ascender - descender + lineGap;
    return height > 0 ? height : 1.2 * this.unitsPerEm;
  }
  /**
   * Shapes one run of one direction and script. Glyphs come in visual order, left to right; clusters are UTF-16 offsets
   * in `text`, whatever part of it is shaped.
   */
  shape(text, options) {
    const { hb } = this;
    const buffer = new hb.Buffer();
    const start = options.start ?? 0;
    buffer.addText(text, start, (options.end ?? text.length) - start);
    buffer.guessSegmentProperties();
    if (options.script) buffer.setScript(options.script);
    buffer.setDirection(options.rightToLeft ? hb.Direction.RTL : hb.Direction.LTR);
    buffer.setClusterLevel(hb.ClusterLevel.MONOTONE_CHARACTERS);
    const features = Object.entries(options.features).map(([tag, value]) => new hb.Feature(tag, value));
    for (const { tag, value, start: from, end } of options.ranges ?? []) features.push(new hb.Feature(tag, value, from, end));
    hb.shape(this.font, buffer, features);
    const positions = buffer.getGlyphPositions();
    return buffer.getGlyphInfos().map((info, i) => ({ glyph: info.codepoint, cluster: info.cluster, ...positions[i] }));
  }
  /** Closed contours of a glyph in font units, Y up; empty for a space. Kept and shared: do not change them. */
  outline(glyph) {
    let paths = this.outlines.get(glyph);
    if (!paths) {
      paths = readOutline(this.font, glyph);
      this.outlines.set(glyph, paths);
    }
    return paths;
  }
};
function readOutline(font, glyph) {
  const paths = [];
  let path;
  const end = () => {
    if (path && path.segments > 0) paths.push(path.build(true));
    path = void 0;
  };
  for (const { type, values: v } of font.glyphToJson(glyph)) {
    if (type === "M") {
      end();
      path = new PathBuilder(v[0], v[1]);
    } else if (type === "L") path?.lineTo(v[0], v[1]);
    else if (type === "Q") path?.quadraticTo(v[0], v[1], v[2], v[3]);
    else if (type === "C") path?.cubicTo(v[0], v[1], v[2], v[3], v[4], v[5]);
    else end();
  }
  end();
  return paths;
}
function readTableDirectory(bytes) {
  if (bytes.length < 12) return "The font file is cut short.";
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const tag = (at) => String.fromCharCode(...bytes.subarray(at, at + 4));
  const version = view.getUint32(0);
  if (version !== 65536 && tag(0) !== "OTTO" && tag(0) !== "true") return "The file is no TrueType or OpenType font.";
  const count = view.getUint16(4);
  if (count > 256) return "The font file states more tables than a font can have.";
  const tables = /* @__PURE__ */ new Map();
  for (let i = 0; i < count; i++) {
    const at = 12 + 16 * i;
    if (at + 16 > bytes.length) return "The font file is cut short in its table directory.";
    const offset = view.getUint32(at + 8);
    const length = view.getUint32(at + 12);
    if (offset + length > bytes.length) return `The font file is cut short: its \u201C${tag(at).trim()}\u201D table runs past the end.`;
    tables.set(tag(at), [offset, length]);
  }
  return tables;
}

// core/src/font/unpack.ts
import { unzlibSync } from "fflate";
var MAX_FONT_FILE_BYTES = 30 * 1024 * 1024;
var MAX_UNPACKED_BYTES = 96 * 1024 * 1024;

// core/cli/io.ts
init_mesh_data();

// core/src/format/picture.ts
init_mesh_data();
var MAX_PICTURE_BYTES = 20 * 1024 * 1024;

// core/cli/io.ts
init_solid();

// core/src/check/check.ts
init_solid();

// core/src/check/triangles.ts
import { orient2d, orient3d } from "robust-predicates";

// core/cli/errors.ts
var CommandError = class extends Error {
  constructor(code, message, remedy, status = 1) {
    super(message);
    this.code = code;
    this.remedy = remedy;
    this.status = status;
  }
  code;
  remedy;
  status;
};

// core/cli/io.ts
function readBytes(file, limit = MAX_MODEL_BYTES) {
  try {
    if (statSync(file).size > limit) throw new CommandError("too-large", `${file} is larger than ${limit / 1024 / 1024} MB.`, "Choose a smaller file.", 2);
    return new Uint8Array(readFileSync(file));
  } catch (error) {
    if (error instanceof CommandError) throw error;
    const reason = error.code === "ENOENT" ? "does not exist" : "cannot be read";
    throw new CommandError("file", `${file} ${reason}.`, "Check the path.", 2);
  }
}
var fontsFolder = join(dirname(fileURLToPath(import.meta.url)), "../fonts");
var shippedBytes = (face) => readBytes(join(fontsFolder, face.file));
function findFont(given) {
  const wanted = given ?? SHIPPED_FACES[0].id;
  const shipped = SHIPPED_FACES.find((f) => f.id === wanted.toLowerCase() || f.name.toLowerCase() === wanted.toLowerCase());
  if (shipped) return { sha256: shipped.sha256, name: shipped.name, bytes: shippedBytes(shipped) };
  const bytes = readBytes(wanted);
  return { sha256: hashBytes(bytes), name: wanted.split(/[\\/]/).pop() ?? wanted, bytes };
}

// core/bench/prof-tmp.mts
init_manifold();
init_affine();
init_path();
init_polygon();

// core/src/solid/extrude.ts
init_lattice();

// core/src/solid/pair-table.ts
var PairTable = class {
  mask;
  first;
  second;
  value;
  count = 0;
  /** `expected`: about how many pairs it will hold. */
  constructor(expected) {
    let size = 16;
    while (size < expected * 2) size *= 2;
    this.mask = size - 1;
    this.first = new Int32Array(size).fill(-1);
    this.second = new Int32Array(size);
    this.value = new Int32Array(size);
  }
  get size() {
    return this.count;
  }
  slot(a, b) {
    const { first, second, mask } = this;
    let h = Math.imul(a, 2654435761) ^ Math.imul(b, 2246822507);
    h ^= h >>> 15;
    let i = h & mask;
    while (first[i] >= 0 && (first[i] !== a || second[i] !== b)) i = i + 1 & mask;
    return i;
  }
  has(a, b) {
    return this.first[this.slot(a, b)] >= 0;
  }
  /** The value of a pair, −1 when it is not there. */
  get(a, b) {
    const i = this.slot(a, b);
    return this.first[i] < 0 ? -1 : this.value[i];
  }
  /** False when the pair was there already; its value is replaced. */
  set(a, b, value) {
    const i = this.slot(a, b);
    this.value[i] = value;
    if (this.first[i] >= 0) return false;
    this.first[i] = a;
    this.second[i] = b;
    this.count++;
    if (this.count * 2 > this.mask) this.grow();
    return true;
  }
  grow() {
    const { first, second, value } = this;
    const size = 2 * first.length;
    this.mask = size - 1;
    this.first = new Int32Array(size).fill(-1);
    this.second = new Int32Array(size);
    this.value = new Int32Array(size);
    for (let k = 0; k < first.length; k++) {
      if (first[k] < 0) continue;
      const i = this.slot(first[k], second[k]);
      this.first[i] = first[k];
      this.second[i] = second[k];
      this.value[i] = value[k];
    }
  }
  /** Calls `visit` for every pair. */
  each(visit) {
    const { first, second, value } = this;
    for (let i = 0; i < first.length; i++) if (first[i] >= 0) visit(first[i], second[i], value[i]);
  }
};

// core/src/solid/builder.ts
init_solid();
var SolidBuilder = class {
  constructor(lattice) {
    this.lattice = lattice;
  }
  lattice;
  n = new Float64Array(9);
  uv = new Float64Array(6);
  positions = new Float64Array(3 * 256);
  /** per vertex the first one over its point of the plane, and the next one over it, −1 for none */
  first = new Int32Array(256);
  above = new Int32Array(256);
  vertices = 0;
  indices = new Uint32Array(3 * 256);
  group = new Uint8Array(256);
  letter = new Uint16Array(256);
  band = new Uint8Array(256);
  normals = new Float32Array(9 * 256);
  uvs = new Float32Array(6 * 256);
  count = 0;
  columns = new PairTable(512);
  get triangles() {
    return this.count;
  }
  /** The vertex at a lattice point. */
  vertex(x, y, z) {
    const i = Math.round(x / this.lattice) + 1073741824;
    const j = Math.round(y / this.lattice) + 1073741824;
    const first = this.columns.get(i, j);
    if (first >= 0) return this.inColumn(first, x, y, z);
    const v = this.add(x, y, z, -1);
    this.columns.set(i, j, v);
    return v;
  }
  /** The vertex at height z over the same point of the plane as another vertex. */
  inColumn(other, x, y, z) {
    let v = this.first[other];
    for (; ; ) {
      if (this.positions[3 * v + 2] === z) return v;
      const next = this.above[v];
      if (next < 0) break;
      v = next;
    }
    const made = this.add(x, y, z, this.first[other]);
    this.above[v] = made;
    return made;
  }
  add(x, y, z, first) {
    const v = this.vertices++;
    if (3 * v >= this.positions.length) {
      this.positions = doubled(this.positions);
      this.first = doubled(this.first);
      this.above = doubled(this.above);
    }
    this.positions[3 * v] = x;
    this.positions[3 * v + 1] = y;
    this.positions[3 * v + 2] = z;
    this.above[v] = -1;
    this.first[v] = first < 0 ? v : first;
    return v;
  }
  /** Adds a triangle with what the scratch arrays hold; one without three different vertices is left out. `up` −1 turns it over. */
  triangle(a, b, c, group, letter, up = 1, band = 0) {
    if (a === b || b === c || a === c) return;
    const t = this.count++;
    if (t >= this.group.length) {
      this.indices = doubled(this.indices);
      this.group = doubled(this.group);
      this.letter = doubled(this.letter);
      this.band = doubled(this.band);
      this.normals = doubled(this.normals);
      this.uvs = doubled(this.uvs);
    }
    const { n, uv, normals, uvs, indices } = this;
    const [q, r] = up === 1 ? [1, 2] : [2, 1];
    indices[3 * t] = a;
    indices[3 * t + q] = b;
    indices[3 * t + r] = c;
    for (let k = 0; k < 3; k++) {
      normals[9 * t + k] = n[k];
      normals[9 * t + 3 * q + k] = n[3 + k];
      normals[9 * t + 3 * r + k] = n[6 + k];
    }
    uvs[6 * t] = uv[0];
    uvs[6 * t + 1] = uv[1];
    uvs[6 * t + 2 * q] = uv[2];
    uvs[6 * t + 2 * q + 1] = uv[3];
    uvs[6 * t + 2 * r] = uv[4];
    uvs[6 * t + 2 * r + 1] = uv[5];
    this.group[t] = group;
    this.letter[t] = letter;
    this.band[t] = band;
  }
  /** The scratch normal of corner k (0 to 2). */
  setNormal(k, x, y, z) {
    this.n[3 * k] = x;
    this.n[3 * k + 1] = y;
    this.n[3 * k + 2] = z;
  }
  setUv(k, u, v) {
    this.uv[2 * k] = u;
    this.uv[2 * k + 1] = v;
  }
  finish(letters = [], bands = []) {
    const n = this.count;
    const indices = this.indices.slice(0, 3 * n);
    return {
      kind: "solid",
      positions: this.positions.slice(0, 3 * this.vertices),
      indices,
      group: this.group.slice(0, n),
      letter: this.letter.slice(0, n),
      layer: new Uint16Array(n),
      ...bands.length > 0 ? { band: this.band.slice(0, n), bands } : {},
      layers: [],
      part: connectedParts(indices, this.vertices).part,
      normals: this.normals.slice(0, 9 * n),
      uvs: this.uvs.slice(0, 6 * n),
      letters,
      lattice: this.lattice
    };
  }
};
function doubled(array) {
  const longer = new array.constructor(2 * array.length);
  longer.set(array);
  return longer;
}
var OutlineFrame = class {
  /** per point: tangents arriving and leaving (x, y each), distance along its ring, length to the next point, the next point */
  tangents;
  along;
  length;
  next;
  x;
  y;
  letter;
  constructor(rings, letterAt) {
    const n = rings.reduce((sum, ring) => sum + ring.xy.length / 2, 0);
    this.tangents = new Float64Array(4 * n);
    this.along = new Float64Array(n);
    this.length = new Float64Array(n);
    this.next = new Int32Array(n);
    this.x = new Float64Array(n);
    this.y = new Float64Array(n);
    this.letter = new Int32Array(n).fill(NO_LETTER);
    let base = 0;
    for (const { xy, tangents } of rings) {
      const m = xy.length / 2;
      this.tangents.set(tangents, 4 * base);
      let distance = 0;
      for (let i = 0; i < m; i++) {
        const j = (i + 1) % m;
        const dx = xy[2 * j] - xy[2 * i];
        const dy = xy[2 * j + 1] - xy[2 * i + 1];
        const l = Math.hypot(dx, dy);
        this.x[base + i] = xy[2 * i];
        this.y[base + i] = xy[2 * i + 1];
        this.along[base + i] = distance;
        this.length[base + i] = l;
        this.next[base + i] = base + j;
        if (letterAt) {
          const probe = Math.min(0.01, l * 0.1);
          this.letter[base + i] = letterAt(xy[2 * i] + dx / 2 - dy / l * probe, xy[2 * i + 1] + dy / 2 + dx / l * probe);
        }
        distance += l;
      }
      base += m;
    }
  }
  /** How far along the side that starts at a point (x, y) lies, mm. */
  alongSide(point, x, y) {
    const j = this.next[point];
    return ((x - this.x[point]) * (this.x[j] - this.x[point]) + (y - this.y[point]) * (this.y[j] - this.y[point])) / this.length[point];
  }
  /**
   * Upright walls on the outline between two heights, cut into `rows`: `group` of the surface, quads split alike. Heights are on
   * the lattice; nothing is built where the upper is not above the lower.
   */
  walls(mesh, zLow, zHigh, group, rows = 1, band = 0) {
    if (zHigh <= zLow) return;
    const { tangents, next, x, y } = this;
    const levels = Array.from(
      { length: rows + 1 },
      (_, k) => k === rows ? zHigh : Math.round((zLow + (zHigh - zLow) * k / rows) / mesh.lattice) * mesh.lattice
    );
    for (let i = 0; i < next.length; i++) {
      const j = next[i];
      for (let k = 0; k < rows; k++) {
        const [z0, z1] = [levels[k], levels[k + 1]];
        const a = mesh.vertex(x[i], y[i], z0);
        const b = mesh.vertex(x[j], y[j], z0);
        const c = mesh.inColumn(b, x[j], y[j], z1);
        const d = mesh.inColumn(a, x[i], y[i], z1);
        const [nx0, ny0, nx1, ny1] = [tangents[4 * i + 3], -tangents[4 * i + 2], tangents[4 * j + 1], -tangents[4 * j]];
        const u0 = this.along[i];
        const u1 = u0 + this.length[i];
        mesh.setNormal(0, nx0, ny0, 0);
        mesh.setNormal(1, nx1, ny1, 0);
        mesh.setNormal(2, nx1, ny1, 0);
        mesh.setUv(0, u0, z0);
        mesh.setUv(1, u1, z0);
        mesh.setUv(2, u1, z1);
        mesh.triangle(a, b, c, group, this.letter[i], 1, band);
        mesh.setNormal(2, nx0, ny0, 0);
        mesh.setNormal(1, nx1, ny1, 0);
        mesh.setUv(1, u1, z1);
        mesh.setUv(2, u0, z1);
        mesh.triangle(a, c, d, group, this.letter[i], 1, band);
      }
    }
  }
};

// core/src/solid/edge-surface.ts
init_manifold();
init_lattice();
init_polygon();

// core/src/solid/ear-clip.ts
function area(x, y, a, b, c) {
  return (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a]);
}
function longestSquare(x, y, a, b, c) {
  return Math.max((x[b] - x[a]) ** 2 + (y[b] - y[a]) ** 2, (x[c] - x[b]) ** 2 + (y[c] - y[b]) ** 2, (x[a] - x[c]) ** 2 + (y[a] - y[c]) ** 2);
}
function earQuality(ids, x, y, a, b, c) {
  const d = area(x, y, a, b, c);
  if (d <= 0) return 0;
  for (const p of ids) {
    if (p === a || p === b || p === c) continue;
    if (x[p] === x[a] && y[p] === y[a] || x[p] === x[b] && y[p] === y[b] || x[p] === x[c] && y[p] === y[c]) continue;
    if (area(x, y, a, b, p) >= 0 && area(x, y, b, c, p) >= 0 && area(x, y, c, a, p) >= 0) return 0;
  }
  return d / longestSquare(x, y, a, b, c);
}
function earClip(loop, x, y, out) {
  if (loop.length === 3) {
    out.push(loop[0], loop[1], loop[2]);
    return;
  }
  if (loop.length === 4 && clipQuad(loop, x, y, out)) return;
  const ids = loop.slice();
  const quality = ids.map(() => NaN);
  while (ids.length > 3) {
    const n = ids.length;
    let best = -1;
    let bestQuality = 0;
    let forced = 0;
    let forcedQuality = -Infinity;
    for (let i2 = 0; i2 < n; i2++) {
      const a = ids[(i2 + n - 1) % n];
      const b = ids[i2];
      const c = ids[(i2 + 1) % n];
      if (Number.isNaN(quality[i2])) quality[i2] = earQuality(ids, x, y, a, b, c);
      const q = quality[i2];
      if (q > bestQuality) {
        bestQuality = q;
        best = i2;
      }
      if (best < 0) {
        const f = area(x, y, a, b, c) / (longestSquare(x, y, a, b, c) + 1e-300);
        if (f > forcedQuality) {
          forcedQuality = f;
          forced = i2;
        }
      }
    }
    const i = best >= 0 ? best : forced;
    out.push(ids[(i + n - 1) % n], ids[i], ids[(i + 1) % n]);
    ids.splice(i, 1);
    quality.splice(i, 1);
    const m = n - 1;
    for (let k = 0; k < m; k++) if (quality[k] <= 0) quality[k] = NaN;
    quality[(i + m - 1) % m] = NaN;
    quality[i % m] = NaN;
  }
  out.push(ids[0], ids[1], ids[2]);
}
function clipQuad([a, b, c, d], x, y, out) {
  const quality = (p, q, r) => area(x, y, p, q, r) / (longestSquare(x, y, p, q, r) + 1e-300);
  const ac = Math.min(quality(a, b, c), quality(a, c, d));
  const bd = Math.min(quality(b, c, d), quality(b, d, a));
  if (Math.max(ac, bd) <= 0) return false;
  if (ac >= bd) out.push(a, b, c, a, c, d);
  else out.push(b, c, d, b, d, a);
  return true;
}

// core/src/solid/skeleton.ts
var HIT = 1e-7;
var SAME = 1e-7;
var ANTIPARALLEL = 1e-13;
var EventHeap = class {
  time = [];
  first = [];
  second = [];
  topTime = 0;
  topFirst = 0;
  topSecond = 0;
  get size() {
    return this.time.length;
  }
  push(time, first, second) {
    const { time: T, first: A, second: B } = this;
    let i = T.length;
    T.push(time);
    A.push(first);
    B.push(second);
    while (i > 0) {
      const parent = i - 1 >> 1;
      if (T[parent] <= time) break;
      T[i] = T[parent];
      A[i] = A[parent];
      B[i] = B[parent];
      i = parent;
    }
    T[i] = time;
    A[i] = first;
    B[i] = second;
  }
  /** Takes the earliest event into topTime, topFirst, topSecond. */
  pop() {
    const { time: T, first: A, second: B } = this;
    this.topTime = T[0];
    this.topFirst = A[0];
    this.topSecond = B[0];
    const time = T.pop();
    const first = A.pop();
    const second = B.pop();
    const n = T.length;
    if (n === 0) return;
    let i = 0;
    for (; ; ) {
      let child = 2 * i + 1;
      if (child >= n) break;
      if (child + 1 < n && T[child + 1] < T[child]) child++;
      if (T[child] >= time) break;
      T[i] = T[child];
      A[i] = A[child];
      B[i] = B[child];
      i = child;
    }
    T[i] = time;
    A[i] = first;
    B[i] = second;
  }
};
var CORNER_FROM = 20;
function straightSkeleton(set, options) {
  return new Wavefront(set, options).run();
}
var Wavefront = class {
  limit;
  // nodes
  x = [];
  y = [];
  t = [];
  // edges
  edges;
  // wavefront vertices: between edge a and edge b, at (px, py) at time pt, moving with (vx, vy)
  a = [];
  b = [];
  px = [];
  py = [];
  pt = [];
  vx = [];
  vy = [];
  node = [];
  prev = [];
  next = [];
  alive = [];
  ridge = [];
  // anti-parallel: no velocity
  reflex = [];
  liveCount = 0;
  // the live segments of an edge: vertices whose b is the edge, doubly linked
  segmentHead;
  segmentNext = [];
  segmentPrev = [];
  // pending hits of a concave vertex, nearest first
  hitTimes = [];
  hitEdges = [];
  hitAt = [];
  heap = new EventHeap();
  arcFace = [];
  arcFrom = [];
  arcTo = [];
  unresolved = [];
  constructor(set, options) {
    this.limit = options.limit;
    const { corners = "mitre" } = options;
    const mitreTurn = (corners === "mitre" ? options.mitreTurn ?? 150 : CORNER_FROM) * Math.PI / 180;
    const share = corners === "round" ? Math.PI / 12 : Math.PI / 2;
    const dx = [];
    const dy = [];
    const start = [];
    const end = [];
    const rings = [];
    for (const { xy } of set.rings) {
      const n = xy.length / 2;
      const base = this.x.length;
      for (let i = 0; i < n; i++) this.newNode(xy[2 * i], xy[2 * i + 1], 0);
      const ux = new Float64Array(n);
      const uy = new Float64Array(n);
      for (let i = 0; i < n; i++) {
        const j = (i + 1) % n;
        const ex = xy[2 * j] - xy[2 * i];
        const ey = xy[2 * j + 1] - xy[2 * i + 1];
        const length = Math.hypot(ex, ey);
        ux[i] = ex / length;
        uy[i] = ey / length;
      }
      const ring = [];
      for (let i = 0; i < n; i++) {
        const p = (i + n - 1) % n;
        const turn = Math.atan2(ux[p] * uy[i] - uy[p] * ux[i], ux[p] * ux[i] + uy[p] * uy[i]);
        if (turn < -mitreTurn) {
          const from = Math.atan2(uy[p], ux[p]);
          const parts = Math.max(2, Math.ceil(-turn / share - 1e-9));
          for (let k = 1; k < parts; k++) {
            const angle = from + turn * k / parts;
            ring.push(dx.length);
            dx.push(Math.cos(angle));
            dy.push(Math.sin(angle));
            start.push(base + i);
            end.push(base + i);
          }
        }
        ring.push(dx.length);
        dx.push(ux[i]);
        dy.push(uy[i]);
        start.push(base + i);
        end.push(base + (i + 1) % n);
      }
      rings.push(ring);
    }
    const count = dx.length;
    const c = new Float64Array(count);
    for (let e = 0; e < count; e++) c[e] = -dy[e] * this.x[start[e]] + dx[e] * this.y[start[e]];
    this.edges = {
      count,
      dx: Float64Array.from(dx),
      dy: Float64Array.from(dy),
      nx: Float64Array.from(dy, (v) => -v),
      ny: Float64Array.from(dx),
      c,
      start: Int32Array.from(start),
      end: Int32Array.from(end)
    };
    this.segmentHead = new Int32Array(count).fill(-1);
    for (const ring of rings) {
      const first = this.a.length;
      ring.forEach((e, i) => {
        const s = start[e];
        this.newVertex(ring[(i + ring.length - 1) % ring.length], e, this.x[s], this.y[s], 0, s);
      });
      for (let i = 0; i < ring.length; i++) this.link(first + i, first + (i + 1) % ring.length);
    }
  }
  run() {
    const initial = this.a.length;
    for (let v = 0; v < initial; v++) this.scheduleEdgeEvent(v, 0);
    for (let v = 0; v < initial; v++) this.scheduleHits(v, 0);
    let now = 0;
    let steps = 0;
    const maxSteps = this.edges.count * 800 + 2e4;
    while (this.heap.size > 0 && this.liveCount > 0) {
      this.heap.pop();
      const { topTime, topFirst: v, topSecond: other } = this.heap;
      if (!this.alive[v]) continue;
      if (topTime > this.limit) break;
      if (topTime > now) now = topTime;
      if (++steps > maxSteps) {
        this.unresolved.push("too many events");
        break;
      }
      if (other >= 0) {
        if (this.alive[other] && this.next[v] === other) this.edgeEvent(v, other, now);
      } else this.hitEvent(v, -1 - other, now);
    }
    const caps = this.close();
    return {
      x: this.x,
      y: this.y,
      t: this.t,
      edges: this.edges,
      arcFace: this.arcFace,
      arcFrom: this.arcFrom,
      arcTo: this.arcTo,
      caps,
      unresolved: this.unresolved
    };
  }
  newNode(x, y, t) {
    this.x.push(x);
    this.y.push(y);
    this.t.push(t);
    return this.x.length - 1;
  }
  /** A node at this place and time; that of one of the given vertices when it is the same place. */
  nodeAt(x, y, t, v, w = -1) {
    for (const u of [v, w]) {
      if (u < 0) continue;
      const n = this.node[u];
      if (Math.abs(this.x[n] - x) < SAME && Math.abs(this.y[n] - y) < SAME) return n;
    }
    return this.newNode(x, y, t);
  }
  newVertex(a, b, x, y, t, node) {
    const { nx, ny, dx, dy } = this.edges;
    const v = this.a.length;
    const dot = nx[a] * nx[b] + ny[a] * ny[b];
    const cross = dx[a] * dy[b] - dy[a] * dx[b];
    const ridge = 1 + dot < ANTIPARALLEL;
    this.a.push(a);
    this.b.push(b);
    this.px.push(x);
    this.py.push(y);
    this.pt.push(t);
    this.vx.push(ridge ? 0 : (nx[a] + nx[b]) / (1 + dot));
    this.vy.push(ridge ? 0 : (ny[a] + ny[b]) / (1 + dot));
    this.node.push(node);
    this.prev.push(-1);
    this.next.push(-1);
    this.alive.push(true);
    this.ridge.push(ridge);
    this.reflex.push(cross < -1e-12);
    this.hitTimes.push(void 0);
    this.hitEdges.push(void 0);
    this.hitAt.push(0);
    const head = this.segmentHead[b];
    this.segmentNext.push(head);
    this.segmentPrev.push(-1);
    if (head >= 0) this.segmentPrev[head] = v;
    this.segmentHead[b] = v;
    this.liveCount++;
    return v;
  }
  kill(v) {
    if (!this.alive[v]) return;
    this.alive[v] = false;
    this.liveCount--;
    const p = this.segmentPrev[v];
    const n = this.segmentNext[v];
    if (p >= 0) this.segmentNext[p] = n;
    else this.segmentHead[this.b[v]] = n;
    if (n >= 0) this.segmentPrev[n] = p;
    this.hitTimes[v] = void 0;
    this.hitEdges[v] = void 0;
  }
  link(v, w) {
    this.next[v] = w;
    this.prev[w] = v;
  }
  xAt(v, t) {
    return this.px[v] + this.vx[v] * (t - this.pt[v]);
  }
  yAt(v, t) {
    return this.py[v] + this.vy[v] * (t - this.pt[v]);
  }
  piece(face, from, to) {
    this.arcFace.push(face);
    this.arcFrom.push(from);
    this.arcTo.push(to);
  }
  /** The trace of vertex v ends at `node`: one arc, once in each of its two faces. */
  arc(v, node) {
    const from = this.node[v];
    if (from === node) return;
    this.piece(this.a[v], from, node);
    this.piece(this.b[v], node, from);
  }
  scheduleEdgeEvent(v, now) {
    const w = this.next[v];
    if (this.ridge[v] || this.ridge[w] || w === v) return;
    const e = this.b[v];
    const dx = this.edges.dx[e];
    const dy = this.edges.dy[e];
    const length = (this.xAt(w, now) - this.xAt(v, now)) * dx + (this.yAt(w, now) - this.yAt(v, now)) * dy;
    const rate = (this.vx[w] - this.vx[v]) * dx + (this.vy[w] - this.vy[v]) * dy;
    let t;
    if (length <= 1e-10 && rate <= 1e-10) t = now;
    else if (rate < 0) t = now - length / rate;
    else if (length < -HIT) {
      t = now;
      this.unresolved.push("an edge turned inside out");
    } else return;
    if (t < now) t = now;
    if (t <= this.limit) this.heap.push(t, v, w);
  }
  /** Lists when a concave vertex would hit every other edge's line; the nearest is put on the heap. */
  scheduleHits(v, now) {
    if (!this.reflex[v] || this.ridge[v]) return;
    const { nx, ny, c, count } = this.edges;
    const x = this.xAt(v, now);
    const y = this.yAt(v, now);
    const vx = this.vx[v];
    const vy = this.vy[v];
    const times = [];
    const lines = [];
    for (let e = 0; e < count; e++) {
      if (e === this.a[v] || e === this.b[v] || this.segmentHead[e] < 0) continue;
      const rate = nx[e] * vx + ny[e] * vy - 1;
      if (rate >= -1e-12) continue;
      const distance = nx[e] * x + ny[e] * y - c[e] - now;
      if (distance < -HIT) continue;
      const t = Math.max(now, now - distance / rate);
      if (t > this.limit) continue;
      times.push(t);
      lines.push(e);
    }
    const order = times.map((_, i) => i).sort((i, j) => times[i] - times[j]);
    this.hitTimes[v] = Float64Array.from(order, (i) => times[i]);
    this.hitEdges[v] = Int32Array.from(order, (i) => lines[i]);
    this.hitAt[v] = 0;
    this.nextHit(v);
  }
  nextHit(v) {
    const times = this.hitTimes[v];
    const lines = this.hitEdges[v];
    if (!times || !lines || this.hitAt[v] >= times.length) return;
    const i = this.hitAt[v]++;
    this.heap.push(times[i], v, -1 - lines[i]);
  }
  edgeEvent(v, w, now) {
    if (this.prev[v] === w) {
      this.closeLoop(v, w, now);
      return;
    }
    const slower = Math.hypot(this.vx[v], this.vy[v]) < Math.hypot(this.vx[w], this.vy[w]) ? v : w;
    const x = this.xAt(slower, now);
    const y = this.yAt(slower, now);
    const node = this.nodeAt(x, y, now, v, w);
    this.arc(v, node);
    this.arc(w, node);
    const before = this.prev[v];
    const after = this.next[w];
    this.kill(v);
    this.kill(w);
    const u = this.newVertex(this.a[v], this.b[w], x, y, now, node);
    this.link(before, u);
    this.link(u, after);
    this.settle(u, now);
  }
  hitEvent(v, e, now) {
    const { dx, dy } = this.edges;
    const x = this.xAt(v, now);
    const y = this.yAt(v, now);
    let target = -1;
    let best = -Infinity;
    let fromStart = 0;
    let toEnd = 0;
    for (let s = this.segmentHead[e]; s >= 0; s = this.segmentNext[s]) {
      const n = this.next[s];
      if (s === v || n === v) continue;
      const d0 = (x - this.xAt(s, now)) * dx[e] + (y - this.yAt(s, now)) * dy[e];
      const d1 = (this.xAt(n, now) - x) * dx[e] + (this.yAt(n, now) - y) * dy[e];
      const inside = Math.min(d0, d1);
      if (inside < -HIT || inside <= best) continue;
      if (d0 < HIT && (this.a[s] === this.a[v] || this.node[s] === this.node[v])) continue;
      if (d1 < HIT && (this.b[n] === this.b[v] || this.node[n] === this.node[v])) continue;
      if (d0 < HIT && s === this.next[v] || d1 < HIT && n === this.prev[v]) continue;
      best = inside;
      target = s;
      fromStart = d0;
      toEnd = d1;
    }
    if (target < 0) {
      this.nextHit(v);
      return;
    }
    const far = this.next[target];
    const node = this.nodeAt(x, y, now, v);
    this.arc(v, node);
    const before = this.prev[v];
    const after = this.next[v];
    this.kill(v);
    let left;
    let right;
    if (fromStart < HIT && fromStart <= toEnd) {
      this.arc(target, node);
      const targetBefore = this.prev[target];
      this.kill(target);
      left = this.newVertex(this.a[v], e, x, y, now, node);
      right = this.newVertex(this.a[target], this.b[v], x, y, now, node);
      this.link(before, left);
      this.link(left, far);
      this.link(targetBefore, right);
      this.link(right, after);
    } else if (toEnd < HIT) {
      this.arc(far, node);
      const farAfter = this.next[far];
      this.kill(far);
      left = this.newVertex(this.a[v], this.b[far], x, y, now, node);
      right = this.newVertex(e, this.b[v], x, y, now, node);
      this.link(before, left);
      this.link(left, farAfter);
      this.link(target, right);
      this.link(right, after);
    } else {
      left = this.newVertex(this.a[v], e, x, y, now, node);
      right = this.newVertex(e, this.b[v], x, y, now, node);
      this.link(before, left);
      this.link(left, far);
      this.link(target, right);
      this.link(right, after);
    }
    this.settle(left, now);
    this.settle(right, now);
    if (this.alive[target]) this.scheduleEdgeEvent(target, now);
  }
  /** A loop of two vertices closes with one arc between them. */
  closeLoop(v, w, now) {
    const at = (u) => this.ridge[u] ? [this.px[u], this.py[u]] : [this.xAt(u, now), this.yAt(u, now)];
    const [vx, vy] = at(v);
    const [wx, wy] = at(w);
    const first = this.nodeAt(vx, vy, now, v);
    const second = Math.hypot(vx - wx, vy - wy) < SAME ? first : this.nodeAt(wx, wy, now, w);
    this.arc(v, first);
    this.arc(w, second);
    if (first !== second) {
      this.piece(this.a[v], first, second);
      this.piece(this.a[w], second, first);
    }
    this.kill(v);
    this.kill(w);
  }
  /** After a vertex was made and linked: close what is closed, run along ridges, schedule what comes next. */
  settle(vertex, now) {
    const { dx, dy } = this.edges;
    let v = vertex;
    for (let guard = 0; ; guard++) {
      if (!this.alive[v]) return;
      if (this.next[v] === v) {
        this.kill(v);
        this.unresolved.push("a loop of one");
        return;
      }
      if (this.next[v] === this.prev[v]) {
        this.closeLoop(v, this.next[v], now);
        return;
      }
      if (!this.ridge[v]) break;
      if (guard > 1e5) {
        this.unresolved.push("an endless ridge");
        return;
      }
      const p = this.prev[v];
      const n = this.next[v];
      const [bx, by] = [this.xAt(p, now), this.yAt(p, now)];
      const [fx, fy] = [this.xAt(n, now), this.yAt(n, now)];
      const back = (this.px[v] - bx) * dx[this.a[v]] + (this.py[v] - by) * dy[this.a[v]];
      const forth = (fx - this.px[v]) * dx[this.b[v]] + (fy - this.py[v]) * dy[this.b[v]];
      let u;
      if (back <= forth) {
        const node = this.nodeAt(bx, by, now, p, v);
        this.arc(v, node);
        this.arc(p, node);
        u = this.newVertex(this.a[p], this.b[v], bx, by, now, node);
        this.link(this.prev[p], u);
        this.link(u, n);
        this.kill(p);
      } else {
        const node = this.nodeAt(fx, fy, now, n, v);
        this.arc(v, node);
        this.arc(n, node);
        u = this.newVertex(this.a[v], this.b[n], fx, fy, now, node);
        this.link(p, u);
        this.link(u, this.next[n]);
        this.kill(n);
      }
      this.kill(v);
      v = u;
    }
    this.scheduleEdgeEvent(v, now);
    this.scheduleEdgeEvent(this.prev[v], now);
    this.scheduleHits(v, now);
  }
  /** What still lives at the limit becomes the caps. */
  close() {
    if (this.liveCount === 0) return [];
    if (this.limit === Infinity) {
      this.unresolved.push(`${this.liveCount} corners never met`);
      return [];
    }
    const t = this.limit;
    const live = [];
    const ends = /* @__PURE__ */ new Map();
    for (let v = 0; v < this.a.length; v++) if (this.alive[v]) live.push(v);
    for (const v of live) ends.set(v, this.nodeAt(this.xAt(v, t), this.yAt(v, t), t, v));
    const end = (v) => ends.get(v);
    for (const v of live) {
      this.arc(v, end(v));
      const n = this.next[v];
      if (end(n) !== end(v)) this.piece(this.b[v], end(n), end(v));
    }
    const caps = [];
    const seen = /* @__PURE__ */ new Set();
    for (const first of live) {
      if (seen.has(first)) continue;
      const nodes = [];
      const edges = [];
      let v = first;
      do {
        seen.add(v);
        if (nodes.length === 0 || nodes[nodes.length - 1] !== end(v)) {
          nodes.push(end(v));
          edges.push(this.b[v]);
        } else edges[edges.length - 1] = this.b[v];
        v = this.next[v];
      } while (v !== first);
      if (nodes.length > 1 && nodes[0] === nodes[nodes.length - 1]) {
        nodes.pop();
        edges.pop();
      }
      if (nodes.length >= 3) caps.push({ nodes, edges });
      else this.unresolved.push("a cap with fewer than three corners");
    }
    return caps;
  }
};

// core/src/solid/edge-surface.ts
var CAP = -1;
var ATTEMPTS = [
  { jitter: 0, shift: 0 },
  { jitter: 0, shift: -4e-4 },
  { jitter: 1e-6, shift: 4e-4 },
  { jitter: 1e-5, shift: -8e-4 },
  { jitter: 3e-5, shift: 8e-4 },
  { jitter: 1e-4, shift: -12e-4 }
];
function edgeSurface(set, levels, stepped = [], corners = "mitre") {
  if (levels.length === 0) return { surface: flatSurface(set), attempts: 1 };
  for (let i = 0; i < ATTEMPTS.length; i++) {
    const { jitter, shift } = ATTEMPTS[i];
    const surface = skeletonSurface(jittered(set, jitter, i), set, shifted(levels, shift), stepped, corners);
    if (surface) return { surface: { ...surface, inset: moveLevels(surface.inset, shifted(levels, shift), levels) }, attempts: i + 1 };
  }
  return { surface: nestedSurface(set, levels), attempts: ATTEMPTS.length + 1 };
}
function shifted(levels, shift) {
  if (shift === 0) return levels;
  return levels.map((d, i) => {
    const room = Math.min(d - (levels[i - 1] ?? 0), (levels[i + 1] ?? Infinity) - d) / 10;
    return d + Math.sign(shift) * Math.min(Math.abs(shift), room);
  });
}
function moveLevels(inset, from, to) {
  if (from === to) return inset;
  const target = new Map(from.map((d, k) => [d, to[k]]));
  return inset.map((t) => target.get(t) ?? t);
}
function flatSurface(set) {
  const x = [];
  const y = [];
  for (const { xy } of set.rings) for (let i = 0; i < xy.length; i += 2) x.push(xy[i]), y.push(xy[i + 1]);
  const triangles = triangulateLoops(consecutiveLoops(set.rings), x, y);
  const count = triangles.length / 3;
  return {
    x,
    y,
    inset: new Array(x.length).fill(0),
    triangles,
    strip: new Array(count).fill(CAP),
    edge: new Array(count).fill(-1),
    frames: outlineFrames(set),
    capLevel: -1,
    approximate: false
  };
}
function outlineFrames(set) {
  const count = set.rings.reduce((sum, ring) => sum + ring.xy.length / 2, 0);
  const frames = { point: Int32Array.from({ length: count }, (_, i) => i), outX: new Float64Array(count), outY: new Float64Array(count) };
  let base = 0;
  for (const { xy } of set.rings) {
    const n = xy.length / 2;
    for (let i = 0; i < n; i++) {
      const j = (i + 1) % n;
      const ex = xy[2 * j] - xy[2 * i];
      const ey = xy[2 * j + 1] - xy[2 * i + 1];
      const length = Math.hypot(ex, ey);
      frames.outX[base + i] = ey / length;
      frames.outY[base + i] = -ex / length;
    }
    base += n;
  }
  return frames;
}
function consecutiveLoops(rings) {
  let base = 0;
  return rings.map(({ xy }) => {
    const loop = Array.from({ length: xy.length / 2 }, (_, i) => base + i);
    base += loop.length;
    return loop;
  });
}
function triangulateLoops(loops, x, y) {
  if (loops.length === 0) return [];
  if (loops.length === 1) {
    const loop = loops[0];
    if (loop.length <= 60) {
      const out = [];
      earClip(loop, x, y, out);
      return out;
    }
  }
  const ids = loops.flat();
  const found = manifold().triangulate(
    loops.map((loop) => loop.map((v) => [x[v], y[v]])),
    -1
  );
  return found.flatMap(([a, b, c]) => [ids[a], ids[b], ids[c]]);
}
function jittered(set, amount, seed) {
  if (amount === 0) return set;
  let state = 2654435769 ^ seed * 2246822507;
  const random = () => {
    state = state + 1831565813 | 0;
    let h = Math.imul(state ^ state >>> 15, 1 | state);
    h = h + Math.imul(h ^ h >>> 7, 61 | h) ^ h;
    return ((h ^ h >>> 14) >>> 0) / 4294967296 - 0.5;
  };
  return { ...set, rings: set.rings.map((ring) => ({ ...ring, xy: ring.xy.map((v) => v + 2 * amount * random()) })) };
}
function skeletonSurface(moving, set, levels, stepped, corners) {
  const skeleton = straightSkeleton(moving, { limit: levels[levels.length - 1], corners });
  if (skeleton.unresolved.length > 0) return void 0;
  const faces = assembleFaces(skeleton);
  if (!faces) return void 0;
  const surface = new Slicer(set, skeleton, levels).cut(faces);
  return surface && !pinchedLevel(surface, levels, stepped) ? surface : void 0;
}
function pinchedLevel(surface, levels, stepped) {
  const { triangles, strip, inset } = surface;
  for (let k = 0; k < levels.length; k++) {
    if (!stepped[k]) continue;
    const sides = /* @__PURE__ */ new Set();
    for (let i = 0; i < triangles.length; i += 3) {
      if (strip[i / 3] !== CAP && strip[i / 3] <= k) continue;
      for (let j = 0; j < 3; j++) {
        const [a, b] = [triangles[i + j], triangles[i + (j + 1) % 3]];
        if (inset[a] === levels[k] && inset[b] === levels[k]) sides.add(a * 67108864 + b);
      }
    }
    const seen = /* @__PURE__ */ new Set();
    for (const key of sides) {
      const a = Math.floor(key / 67108864);
      if (sides.has((key - a * 67108864) * 67108864 + a)) continue;
      if (seen.has(a)) return true;
      seen.add(a);
    }
  }
  return false;
}
function assembleFaces(skeleton) {
  const { edges, arcFace, arcFrom, arcTo } = skeleton;
  const pieces = Array.from({ length: edges.count }, () => []);
  for (let e = 0; e < edges.count; e++) if (edges.start[e] !== edges.end[e]) pieces[e].push(edges.start[e], edges.end[e]);
  for (let k = 0; k < arcFace.length; k++) pieces[arcFace[k]].push(arcFrom[k], arcTo[k]);
  const faces = [];
  for (let e = 0; e < edges.count; e++) {
    const loops = chain(cancelOpposites(pieces[e]), skeleton);
    if (!loops) return void 0;
    for (const loop of loops) if (loop.length >= 3) faces.push({ edge: e, loop });
  }
  return faces;
}
function cancelOpposites(list) {
  const out = [];
  for (let i = 0; i < list.length; i += 2) {
    let j = 0;
    while (j < out.length && !(out[j] === list[i + 1] && out[j + 1] === list[i])) j += 2;
    if (j < out.length) out.splice(j, 2);
    else out.push(list[i], list[i + 1]);
  }
  return out;
}
function chain(list, skeleton) {
  const loops = [];
  const left = list;
  while (left.length > 0) {
    const start = left[0];
    const loop = [];
    let at = start;
    let before = -1;
    do {
      let pick = -1;
      let bestTurn = Infinity;
      for (let i = 0; i < left.length; i += 2) {
        if (left[i] !== at) continue;
        const turn = before < 0 ? 0 : leftTurn(skeleton, before, at, left[i + 1]);
        if (turn < bestTurn) {
          bestTurn = turn;
          pick = i;
        }
      }
      if (pick < 0) return void 0;
      loop.push(at);
      before = at;
      at = left[pick + 1];
      left.splice(pick, 2);
    } while (at !== start);
    loops.push(loop);
  }
  return loops;
}
function leftTurn({ x, y }, from, at, to) {
  const bx = x[from] - x[at];
  const by = y[from] - y[at];
  const cx = x[to] - x[at];
  const cy = y[to] - y[at];
  const angle = Math.atan2(bx * cy - by * cx, bx * cx + by * cy);
  return 2 * Math.PI - (angle < 0 ? angle + 2 * Math.PI : angle);
}
var Slicer = class {
  constructor(set, skeleton, levels) {
    this.set = set;
    this.skeleton = skeleton;
    this.levels = levels;
    const { lattice } = set;
    this.x = skeleton.x.map((v) => snap(v, lattice));
    this.y = skeleton.y.map((v) => snap(v, lattice));
    let i = 0;
    for (const { xy } of set.rings) {
      for (let k = 0; k < xy.length; k += 2, i++) {
        this.x[i] = xy[k];
        this.y[i] = xy[k + 1];
      }
    }
    const near = 1.5 * lattice;
    this.inset = skeleton.t.map((t) => t === 0 ? 0 : this.levels.find((d) => Math.abs(t - d) < near) ?? t);
    this.around = Array.from({ length: this.x.length }, () => void 0);
    this.cuts = new PairTable(2 * this.x.length);
  }
  set;
  skeleton;
  levels;
  x;
  y;
  inset;
  around;
  cuts;
  triangles = [];
  strip = [];
  edge = [];
  cut(faces) {
    const { arcFace, arcFrom, arcTo, edges } = this.skeleton;
    for (let k = 0; k < arcFace.length; k++) {
      this.meet(arcFrom[k], arcFace[k]);
      this.meet(arcTo[k], arcFace[k]);
    }
    for (let e = 0; e < edges.count; e++) {
      this.meet(edges.start[e], e);
      this.meet(edges.end[e], e);
    }
    for (const face of faces) this.slice(this.densify(face), face.edge);
    const caps = triangulateLoops(
      this.skeleton.caps.map((cap) => cap.nodes),
      this.x,
      this.y
    );
    for (let i = 0; i < caps.length; i += 3) this.emit(caps[i], caps[i + 1], caps[i + 2], CAP, -1);
    this.weld();
    const surface = {
      x: this.x,
      y: this.y,
      inset: this.inset,
      triangles: this.triangles,
      strip: this.strip,
      edge: this.edge,
      frames: { point: edges.start, outX: edges.nx.map((v) => -v), outY: edges.ny.map((v) => -v) },
      around: this.around,
      capLevel: this.levels.length - 1,
      approximate: false
    };
    unfold(surface);
    return certify(surface, this.set) ? surface : void 0;
  }
  /** Makes vertices at one lattice point one vertex, on a level if any of them is, and drops triangles that vanish. */
  weld() {
    const one = coincidence(this.x, this.y, this.set.lattice);
    const { triangles, strip, edge, inset } = this;
    for (let v = 0; v < one.length; v++) {
      const u = one[v];
      if (u === v) continue;
      if (this.levels.includes(inset[v])) inset[u] = inset[v];
      for (const e of this.around[v] ?? []) this.meet(u, e);
    }
    let kept = 0;
    for (let i = 0; i < triangles.length; i += 3) {
      const [a, b, c] = [one[triangles[i]], one[triangles[i + 1]], one[triangles[i + 2]]];
      if (a === b || b === c || a === c) continue;
      triangles[3 * kept] = a;
      triangles[3 * kept + 1] = b;
      triangles[3 * kept + 2] = c;
      strip[kept] = strip[i / 3];
      edge[kept] = edge[i / 3];
      kept++;
    }
    triangles.length = 3 * kept;
    strip.length = kept;
    edge.length = kept;
  }
  meet(vertex, edge) {
    const list = this.around[vertex];
    if (!list) this.around[vertex] = [edge];
    else if (!list.includes(edge)) list.push(edge);
  }
  emit(a, b, c, strip, edge) {
    this.triangles.push(a, b, c);
    this.strip.push(strip);
    this.edge.push(edge);
  }
  /** The vertex where the side a–b passes level k, the same one whichever face asks. */
  cutVertex(a, b, k, edge) {
    const lo = Math.min(a, b);
    const hi = Math.max(a, b);
    const key = hi * this.levels.length + k;
    let v = this.cuts.get(lo, key);
    if (v < 0) {
      const d = this.levels[k];
      const f = (d - this.inset[lo]) / (this.inset[hi] - this.inset[lo]);
      v = this.x.length;
      this.x.push(snap(this.x[lo] + f * (this.x[hi] - this.x[lo]), this.set.lattice));
      this.y.push(snap(this.y[lo] + f * (this.y[hi] - this.y[lo]), this.set.lattice));
      this.inset.push(d);
      this.around.push(void 0);
      this.cuts.set(lo, key, v);
    }
    this.meet(v, edge);
    return v;
  }
  /** The face's loop with a vertex wherever one of its sides passes a level. */
  densify({ edge, loop }) {
    const out = [];
    const { inset, levels } = this;
    for (let i = 0; i < loop.length; i++) {
      const p = loop[i];
      const q = loop[(i + 1) % loop.length];
      out.push(p);
      const lo = Math.min(inset[p], inset[q]);
      const hi = Math.max(inset[p], inset[q]);
      if (lo === hi) continue;
      const rising = inset[p] < inset[q];
      for (let j = 0; j < levels.length; j++) {
        const k = rising ? j : levels.length - 1 - j;
        if (levels[k] > lo && levels[k] < hi) out.push(this.cutVertex(p, q, k, edge));
      }
    }
    return out;
  }
  /**
   * Cuts a face into its strips. Nearly all faces rise from their edge along two chains and come down nowhere: they are cut in one
   * pass from the edge up. The others are split level by level.
   */
  slice(loop, edge) {
    const { inset, levels } = this;
    const n = loop.length;
    let top = 0;
    while (top + 1 < n && inset[loop[top + 1]] >= inset[loop[top]]) top++;
    let simple = n > 3 && inset[loop[0]] === 0;
    for (let i = top; simple && i + 1 < n; i++) if (inset[loop[i + 1]] > inset[loop[i]]) simple = false;
    for (let i = 1; simple && i + 1 < n; i++) if (inset[loop[i]] === inset[loop[i + 1]] && inset[loop[i]] < inset[loop[top]]) simple = false;
    const highest = inset[loop[top]];
    if (!simple || (levels[0] ?? Infinity) >= highest) {
      this.split(loop, 0, edge);
      return;
    }
    let right = 1;
    let left = n;
    const piece = this.piece;
    for (let k = 0; k < levels.length; k++) {
      const d = levels[k];
      let r = right;
      while (r < top && inset[loop[r]] < d) r++;
      let l = left;
      while (l > top && inset[loop[l % n]] < d) l--;
      const last = d >= highest || k === levels.length - 1;
      piece.length = 0;
      if (last) {
        r = l;
        for (let i = right; i <= left; i++) piece.push(loop[i % n]);
      } else {
        if (inset[loop[r]] !== d || inset[loop[l % n]] !== d) {
          for (let i = right; i <= left; i++) piece.push(loop[i % n]);
          this.split(piece.slice(), k, edge);
          return;
        }
        for (let i = right; i <= r; i++) piece.push(loop[i]);
        for (let i = l; i <= left; i++) piece.push(loop[i % n]);
      }
      if (piece.length >= 3) {
        const from = this.triangles.length;
        earClip(piece, this.x, this.y, this.triangles);
        for (let i = from; i < this.triangles.length; i += 3) {
          this.strip.push(k);
          this.edge.push(edge);
        }
      }
      if (last) return;
      right = r;
      left = l;
    }
  }
  piece = [];
  /** Splits a loop at the first level that passes through it and goes on with both parts. */
  split(loop, fromLevel, edge) {
    const { inset, levels } = this;
    let lo = Infinity;
    let hi = -Infinity;
    for (const v of loop) {
      lo = Math.min(lo, inset[v]);
      hi = Math.max(hi, inset[v]);
    }
    let k = fromLevel;
    while (k < levels.length && levels[k] <= lo) k++;
    if (k >= levels.length || hi <= levels[k]) {
      const from = this.triangles.length;
      earClip(loop, this.x, this.y, this.triangles);
      for (let i = from; i < this.triangles.length; i += 3) {
        this.strip.push(Math.min(k, levels.length - 1));
        this.edge.push(edge);
      }
      return;
    }
    const parts = this.halve(loop, k, edge);
    if (parts) {
      this.split(parts[0], k, edge);
      this.split(parts[1], k + 1, edge);
      return;
    }
    const pieces = [];
    earClip(loop, this.x, this.y, pieces);
    for (let i = 0; i < pieces.length; i += 3) this.split([pieces[i], pieces[i + 1], pieces[i + 2]], k, edge);
  }
  /** [below, above] of a loop that passes the level just twice; undefined when it passes or touches it more often. */
  halve(source, k, edge) {
    const { inset, levels } = this;
    const d = levels[k];
    let loop = source;
    if (loop.length === 3) {
      const dense = [];
      for (let i = 0; i < 3; i++) {
        const p = loop[i];
        const q = loop[(i + 1) % 3];
        dense.push(p);
        if ((inset[p] - d) * (inset[q] - d) < 0) dense.push(this.cutVertex(p, q, k, edge));
      }
      loop = dense;
    }
    const n = loop.length;
    const sides = new Int8Array(n);
    for (let i = 0; i < n; i++) sides[i] = Math.sign(inset[loop[i]] - d);
    const passages = [];
    for (let i = 0; i < n; i++) {
      const after = sides[(i + 1) % n];
      if (sides[i] === 0 || after !== 0) {
        if (sides[i] * after < 0) return void 0;
        continue;
      }
      let j = i + 1;
      while (sides[(j + 1) % n] === 0) j++;
      const beyond = sides[(j + 1) % n];
      if (beyond === sides[i]) return void 0;
      passages.push({ first: (i + 1) % n, last: j % n, up: beyond > 0 });
    }
    if (passages.length !== 2) return void 0;
    const { dx, dy } = this.skeleton.edges;
    const along = (i) => this.x[loop[i]] * dx[edge] + this.y[loop[i]] * dy[edge];
    const nearer = (p, far) => Math.abs(along(p.last) - along(far)) < Math.abs(along(p.first) - along(far)) ? p.last : p.first;
    const up = passages[0].up ? passages[0] : passages[1];
    const down = passages[0].up ? passages[1] : passages[0];
    if (up === down || up.up === down.up) return void 0;
    const u = nearer(up, down.first);
    const w = nearer(down, u);
    const above = walk(loop, u, w);
    const below = walk(loop, w, u);
    return above.length >= 3 && below.length >= 3 ? [below, above] : void 0;
  }
};
function walk(loop, from, to) {
  const out = [];
  for (let i = from; ; i = (i + 1) % loop.length) {
    out.push(loop[i]);
    if (i === to) return out;
  }
}
function unfold(surface) {
  const { triangles, x, y, strip, edge } = surface;
  const area2 = (a, b, c) => (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a]);
  const turned = [];
  for (let i = 0; i < triangles.length; i += 3) if (area2(triangles[i], triangles[i + 1], triangles[i + 2]) <= 0) turned.push(i);
  if (turned.length === 0) return;
  const bySide = /* @__PURE__ */ new Map();
  const key = (a, b) => a * 67108864 + b;
  const about = new Set(turned.flatMap((i) => [triangles[i], triangles[i + 1], triangles[i + 2]]));
  for (let i = 0; i < triangles.length; i += 3) {
    if (!about.has(triangles[i]) && !about.has(triangles[i + 1]) && !about.has(triangles[i + 2])) continue;
    for (let j = 0; j < 3; j++) bySide.set(key(triangles[i + j], triangles[i + (j + 1) % 3]), i);
  }
  for (const i of turned) {
    let length2 = function(j) {
      const a = ids[j];
      const b = ids[(j + 1) % 3];
      return (x[b] - x[a]) ** 2 + (y[b] - y[a]) ** 2;
    };
    var length = length2;
    const ids = [triangles[i], triangles[i + 1], triangles[i + 2]];
    if (area2(ids[0], ids[1], ids[2]) > 0) continue;
    let done = false;
    const sides = [0, 1, 2].sort((p, q) => length2(q) - length2(p));
    for (const j of sides) {
      const a = ids[j];
      const b = ids[(j + 1) % 3];
      const c = ids[(j + 2) % 3];
      const other = bySide.get(key(b, a));
      if (other === void 0) continue;
      const d = [triangles[other], triangles[other + 1], triangles[other + 2]].find((v) => v !== a && v !== b);
      if (bySide.has(key(c, d)) || bySide.has(key(d, c))) continue;
      if (area2(a, d, c) <= 0 || area2(d, b, c) <= 0) continue;
      triangles.splice(i, 3, a, d, c);
      triangles.splice(other, 3, d, b, c);
      for (const at of [i, other]) for (let s = 0; s < 3; s++) bySide.set(key(triangles[at + s], triangles[at + (s + 1) % 3]), at);
      bySide.delete(key(a, b));
      bySide.delete(key(b, a));
      strip[i / 3] = strip[other / 3];
      edge[i / 3] = edge[other / 3];
      done = true;
      break;
    }
    if (!done) continue;
  }
}
function certify(surface, set) {
  const { triangles, strip, x, y } = surface;
  const one = coincidence(x, y, set.lattice);
  const sides = new PairTable(triangles.length);
  for (let i = 0; i < triangles.length; i += 3) {
    const a = one[triangles[i]];
    const b = one[triangles[i + 1]];
    const c = one[triangles[i + 2]];
    if (a === b || b === c || a === c) continue;
    const area2 = (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a]);
    if (area2 < 0 || area2 === 0 && strip[i / 3] !== CAP) return false;
    if (!sides.set(a, b, 0) || !sides.set(b, c, 0) || !sides.set(c, a, 0)) return false;
  }
  let open2 = 0;
  sides.each((a, b) => {
    if (!sides.has(b, a)) open2++;
  });
  let outline = 0;
  for (const loop of consecutiveLoops(set.rings)) {
    for (let i = 0; i < loop.length; i++) {
      outline++;
      if (!sides.has(one[loop[i]], one[loop[(i + 1) % loop.length]])) return false;
    }
  }
  return open2 === outline;
}
function coincidence(x, y, lattice) {
  const first = new PairTable(x.length);
  const one = new Int32Array(x.length);
  for (let v = 0; v < one.length; v++) {
    const [i, j] = [Math.round(x[v] / lattice) + 1073741824, Math.round(y[v] / lattice) + 1073741824];
    const known = first.get(i, j);
    if (known < 0) first.set(i, j, v);
    one[v] = known < 0 ? v : known;
  }
  return one;
}
function nestedSurface(set, levels) {
  for (let count = levels.length; count > 0; count--) {
    const surface = nest(set, levels.slice(0, count));
    if (certify(surface, set)) return surface;
  }
  return { ...flatSurface(set), approximate: true };
}
function nest(set, levels) {
  const x = [];
  const y = [];
  const inset = [];
  const triangles = [];
  const strip = [];
  const edge = [];
  const addRings = (rings, d) => rings.map((xy) => {
    const loop = [];
    for (let i = 0; i < xy.length; i += 2) {
      loop.push(x.length);
      x.push(xy[i]);
      y.push(xy[i + 1]);
      inset.push(d);
    }
    return loop;
  });
  const nearest = nearestEdge(set);
  const emit = (loops, k) => {
    const found = triangulateLoops(loops, x, y);
    for (let i = 0; i < found.length; i += 3) {
      const [a, b, c] = [found[i], found[i + 1], found[i + 2]];
      triangles.push(a, b, c);
      strip.push(k);
      edge.push(k === CAP ? -1 : nearest((x[a] + x[b] + x[c]) / 3, (y[a] + y[b] + y[c]) / 3));
    }
  };
  let outer = addRings(
    set.rings.map((ring) => ring.xy),
    0
  );
  let capLevel = -1;
  for (let k = 0; k < levels.length; k++) {
    const rings = insetRings(set, levels[k]);
    if (rings.length === 0) break;
    const inner = addRings(rings, levels[k]);
    emit([...outer, ...inner.map((loop) => loop.slice().reverse())], k);
    outer = inner;
    capLevel = k;
  }
  emit(outer, CAP);
  return { x, y, inset, triangles, strip, edge, frames: outlineFrames(set), capLevel, approximate: true };
}
function insetRings(set, distance) {
  const { CrossSection } = manifold();
  return withScope((own) => {
    const section = own(
      new CrossSection(
        set.rings.map((ring) => toPairs(ring.xy)),
        "Positive"
      )
    );
    const smaller = own(section.offset(-distance, "Miter", 4));
    return smaller.toPolygons().map((ring) => ring.flatMap(([px, py]) => [snap(px, set.lattice), snap(py, set.lattice)])).filter((ring) => Math.abs(doubleArea(ring)) > 2e-4);
  });
}
function nearestEdge(set) {
  return (px, py) => {
    let best = 0;
    let bestSquare = Infinity;
    let base = 0;
    for (const { xy } of set.rings) {
      const n = xy.length / 2;
      for (let i = 0; i < n; i++) {
        const j = (i + 1) % n;
        const ex = xy[2 * j] - xy[2 * i];
        const ey = xy[2 * j + 1] - xy[2 * i + 1];
        const f = Math.max(0, Math.min(1, ((px - xy[2 * i]) * ex + (py - xy[2 * i + 1]) * ey) / (ex * ex + ey * ey)));
        const square = (px - xy[2 * i] - f * ex) ** 2 + (py - xy[2 * i + 1] - f * ey) ** 2;
        if (square < bestSquare) {
          bestSquare = square;
          best = base + i;
        }
      }
      base += n;
    }
    return best;
  };
}

// core/src/solid/even-caps.ts
init_lattice();
init_polygon();
import Constrainautor from "@kninnug/constrainautor";
import Delaunator from "delaunator";
var MAX_INNER_POINTS = 4e4;
function evenCaps(surface, { pattern, edge: asked }, lattice) {
  const { triangles, strip, edge } = surface;
  const loops = capLoops(surface);
  if (loops.length === 0) return surface;
  const x = surface.x.slice();
  const y = surface.y.slice();
  const inset = surface.inset.slice();
  const spacing = coarserFor(loops, x, y, asked);
  const inner = innerPoints(loops, x, y, spacing, pattern, lattice);
  const capInset = inset[loops[0][0]];
  const first = x.length;
  for (let i = 0; i < inner.length; i += 2) {
    x.push(inner[i]);
    y.push(inner[i + 1]);
    inset.push(capInset);
  }
  const border = loops.flat();
  const ids = [...border, ...Array.from({ length: x.length - first }, (_, i) => first + i)];
  const found = constrainedTriangles(loops, ids, x, y, lattice);
  if (!found) return surface;
  const out = { triangles: [], strip: [], edge: [] };
  for (let i = 0; i < strip.length; i++) {
    if (strip[i] === CAP) continue;
    out.triangles.push(triangles[3 * i], triangles[3 * i + 1], triangles[3 * i + 2]);
    out.strip.push(strip[i]);
    out.edge.push(edge[i]);
  }
  for (let i = 0; i < found.length; i += 3) {
    out.triangles.push(found[i], found[i + 1], found[i + 2]);
    out.strip.push(CAP);
    out.edge.push(-1);
  }
  return { ...surface, ...out, x, y, inset };
}
function capLoops({ triangles, strip }) {
  const sides = /* @__PURE__ */ new Set();
  for (let i = 0; i < strip.length; i++) {
    if (strip[i] !== CAP) continue;
    for (let j = 0; j < 3; j++) sides.add(triangles[3 * i + j] * 67108864 + triangles[3 * i + (j + 1) % 3]);
  }
  const next = /* @__PURE__ */ new Map();
  for (const key of sides) {
    const a = Math.floor(key / 67108864);
    const b = key - a * 67108864;
    if (sides.has(b * 67108864 + a)) continue;
    if (next.has(a)) return [];
    next.set(a, b);
  }
  const loops = [];
  while (next.size > 0) {
    const [start] = next.keys();
    const loop = [];
    let at = start;
    do {
      loop.push(at);
      const to = next.get(at);
      if (to === void 0) return [];
      next.delete(at);
      at = to;
    } while (at !== start);
    loops.push(loop);
  }
  return loops;
}
function coarserFor(loops, x, y, asked) {
  let area2 = 0;
  for (const loop of loops) for (let i = 0, j = loop.length - 1; i < loop.length; j = i++) area2 += (x[loop[j]] * y[loop[i]] - x[loop[i]] * y[loop[j]]) / 2;
  return Math.max(asked, Math.sqrt(Math.abs(area2) / MAX_INNER_POINTS));
}
function innerPoints(loops, x, y, spacing, pattern, lattice) {
  const rings = loops.map((loop) => ({ xy: Float64Array.from(loop.flatMap((v) => [x[v], y[v]])) }));
  const box = [Infinity, Infinity, -Infinity, -Infinity];
  for (const { xy } of rings)
    for (let i = 0; i < xy.length; i += 2) {
      box[0] = Math.min(box[0], xy[i]);
      box[1] = Math.min(box[1], xy[i + 1]);
      box[2] = Math.max(box[2], xy[i]);
      box[3] = Math.max(box[3], xy[i + 1]);
    }
  const cell = spacing;
  const columns = Math.max(1, Math.ceil((box[2] - box[0]) / cell) + 1);
  const near = /* @__PURE__ */ new Map();
  const sides = [];
  for (const { xy } of rings)
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const side = sides.length / 4;
      sides.push(xy[j], xy[j + 1], xy[i], xy[i + 1]);
      const steps = Math.max(1, Math.ceil(Math.hypot(xy[i] - xy[j], xy[i + 1] - xy[j + 1]) / (cell / 2)));
      let last = -1;
      for (let s = 0; s <= steps; s++) {
        const px = xy[j] + (xy[i] - xy[j]) * s / steps;
        const py = xy[j + 1] + (xy[i + 1] - xy[j + 1]) * s / steps;
        const key = Math.floor((py - box[1]) / cell) * columns + Math.floor((px - box[0]) / cell);
        if (key === last) continue;
        last = key;
        for (const dy of [-1, 0, 1])
          for (const dx of [-1, 0, 1]) {
            const k = key + dy * columns + dx;
            const list = near.get(k);
            if (!list) near.set(k, [side]);
            else if (list[list.length - 1] !== side) list.push(side);
          }
      }
    }
  const tooNear = (px, py) => {
    const limit = (0.5 * spacing) ** 2;
    for (const side of near.get(Math.floor((py - box[1]) / cell) * columns + Math.floor((px - box[0]) / cell)) ?? []) {
      const [x0, y0, x1, y1] = [sides[4 * side], sides[4 * side + 1], sides[4 * side + 2], sides[4 * side + 3]];
      const [ex, ey] = [x1 - x0, y1 - y0];
      const f = Math.max(0, Math.min(1, ((px - x0) * ex + (py - y0) * ey) / (ex * ex + ey * ey || 1)));
      if ((px - x0 - f * ex) ** 2 + (py - y0 - f * ey) ** 2 < limit) return true;
    }
    return false;
  };
  const out = [];
  const rise = pattern === "triangles" ? spacing * Math.sqrt(3) / 2 : spacing;
  for (let row = 1; box[1] + row * rise < box[3]; row++) {
    const py = snap(box[1] + row * rise, lattice);
    const shift = pattern === "triangles" && row % 2 === 1 ? spacing / 2 : 0;
    const crossings = [];
    for (let s = 0; s < sides.length; s += 4) {
      if (sides[s + 1] <= py === sides[s + 3] <= py) continue;
      crossings.push(sides[s] + (py - sides[s + 1]) / (sides[s + 3] - sides[s + 1]) * (sides[s + 2] - sides[s]));
    }
    crossings.sort((a, b) => a - b);
    for (let c = 0; c + 1 < crossings.length; c += 2) {
      for (let k = Math.ceil((crossings[c] - box[0] - shift) / spacing); box[0] + shift + k * spacing < crossings[c + 1]; k++) {
        const px = snap(box[0] + shift + k * spacing, lattice);
        if (!tooNear(px, py)) out.push(px, py);
      }
    }
  }
  return out;
}
function constrainedTriangles(loops, ids, x, y, lattice) {
  const places = new Set(ids.map((v) => latticeKey(x[v], y[v], lattice)));
  if (places.size !== ids.length) return void 0;
  const coords = Float64Array.from(ids.flatMap((v) => [x[v], y[v]]));
  const constraints = [];
  let base = 0;
  for (const loop of loops) {
    for (let i = 0; i < loop.length; i++) constraints.push([base + i, base + (i + 1) % loop.length]);
    base += loop.length;
  }
  let mesh;
  try {
    mesh = new Delaunator(coords);
    new Constrainautor(mesh, constraints);
  } catch {
    return void 0;
  }
  const rings = loops.map((loop) => ({ xy: Float64Array.from(loop.flatMap((v) => [x[v], y[v]])) }));
  const { triangles, halfedges } = mesh;
  const count = triangles.length / 3;
  const border = new Set(constraints.flatMap(([a, b]) => [a * 67108864 + b, b * 67108864 + a]));
  const side = new Int8Array(count);
  for (let t = 0; t < count; t++) {
    if (side[t] !== 0) continue;
    const cx = (coords[2 * triangles[3 * t]] + coords[2 * triangles[3 * t + 1]] + coords[2 * triangles[3 * t + 2]]) / 3;
    const cy = (coords[2 * triangles[3 * t] + 1] + coords[2 * triangles[3 * t + 1] + 1] + coords[2 * triangles[3 * t + 2] + 1]) / 3;
    const value = winding(rings, cx, cy) > 0 ? 1 : -1;
    const stack = [t];
    side[t] = value;
    while (stack.length > 0) {
      const u = stack.pop();
      for (let j = 0; j < 3; j++) {
        const e = 3 * u + j;
        const twin = halfedges[e];
        if (twin < 0 || border.has(triangles[e] * 67108864 + triangles[3 * u + (j + 1) % 3])) continue;
        const w = Math.floor(twin / 3);
        if (side[w] !== 0) continue;
        side[w] = value;
        stack.push(w);
      }
    }
  }
  const out = [];
  for (let t = 0; t < count; t++) {
    if (side[t] < 0) continue;
    const [a, c, b] = [ids[triangles[3 * t]], ids[triangles[3 * t + 1]], ids[triangles[3 * t + 2]]];
    const area2 = (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a]);
    if (area2 === 0) return void 0;
    if (area2 > 0) out.push(a, b, c);
    else out.push(a, c, b);
  }
  const holes = loops.filter(
    (loop) => loop.reduce((sum, v, i) => sum + x[v] * y[loop[(i + 1) % loop.length]] - x[loop[(i + 1) % loop.length]] * y[v], 0) < 0
  ).length;
  const outer = loops.length - holes;
  return out.length / 3 === 2 * ids.length - base - 2 * outer + 2 * holes ? out : void 0;
}

// core/src/solid/profile.ts
init_cubic();
init_flatten();
init_path();
var QUARTER = 0.5522847498;
var unitProfiles = {
  chamfer: () => lineProfile([0, 0, 1, 1]),
  round: () => curve(0, 0, [0, QUARTER, 1 - QUARTER, 1, 1, 1]),
  cove: () => curve(0, 0, [QUARTER, 0, 1, 1 - QUARTER, 1, 1]),
  ogee: () => curve(0, 0, [0.29, 0, 0.5, 0.21, 0.5, 0.5], [0.5, 0.79, 0.71, 1, 1, 1]),
  stepped: () => lineProfile([0, 0, 0, 0.5, 0.5, 0.5, 0.5, 1, 1, 1]),
  // a quarter round, or a quarter hollow, between two narrow fillets
  ovolo: () => drawn(0, 0).line(0.16, 0).quarter(0.84, 0.84, "round").line(0.84, 1).line(1, 1).path(),
  cavetto: () => drawn(0, 0).line(0, 0.16).line(0.1, 0.16).quarter(0.9, 0.9, "hollow").line(0.9, 1).line(1, 1).path(),
  "reverse-ogee": () => curve(0, 0, [0, 0.29, 0.21, 0.5, 0.5, 0.5], [0.79, 0.5, 1, 0.71, 1, 1]),
  // a hollow deeper below than above
  scotia: () => drawn(0, 0).line(0.08, 0).cubic(0.5, -0.1, 0.86, 0.34, 0.88, 0.86).line(0.88, 1).line(1, 1).path(),
  bead: () => drawn(0, 0).line(0, 0.2).halfRound(1, 0.8).path(),
  astragal: () => drawn(0, 0).line(0, 0.3).line(0.14, 0.3).halfRound(0.86, 0.7).line(1, 0.3).path(),
  reeds: () => drawn(0, 0).line(0, 0.4).halfRound(0.34, 0.6).halfRound(0.67, 0.6).halfRound(1, 0.6).path(),
  flute: () => drawn(0, 0).line(0, 1).line(0.18, 1).halfRound(0.82, -0.6).line(1, 1).path(),
  thumb: () => drawn(0, 0).line(0, 0.3).cubic(0.02, 0.72, 0.4, 1, 0.86, 1).line(1, 1).path(),
  bullnose: () => curve(0, 0, [0, 0.8, 0.2, 1, 1, 1]),
  knife: () => lineProfile([0, 0, 0.3, 0.82, 1, 1]),
  "double-chamfer": () => lineProfile([0, 0, 0.62, 0.34, 1, 1]),
  // a narrow channel that sets the slope off from the wall
  quirk: () => lineProfile([0, 0, 0, 0.62, 0.2, 0.62, 0.2, 0.34, 0.36, 0.34, 1, 1]),
  "two-steps": () => lineProfile([0, 0, 0, 0.34, 0.33, 0.34, 0.33, 0.67, 0.67, 0.67, 0.67, 1, 1, 1]),
  "three-steps": () => lineProfile([0, 0, 0, 0.25, 0.25, 0.25, 0.25, 0.5, 0.5, 0.5, 0.5, 0.75, 0.75, 0.75, 0.75, 1, 1, 1]),
  "two-rounds": () => drawn(0, 0).quarter(0.5, 0.5, "round").quarter(1, 1, "round").path(),
  "two-coves": () => drawn(0, 0).quarter(0.5, 0.5, "hollow").quarter(1, 1, "hollow").path(),
  "step-and-round": () => drawn(0, 0).line(0, 0.34).line(0.26, 0.34).quarter(1, 1, "round").path(),
  "step-and-cove": () => drawn(0, 0).line(0, 0.34).line(0.26, 0.34).quarter(1, 1, "hollow").path(),
  // the face lies lower than its rim
  rim: () => lineProfile([0, 0, 0, 1, 0.6, 1, 0.6, 0.3, 1, 0.3]),
  sunk: () => drawn(0, 0).line(0, 1).line(0.4, 1).cubic(0.4, 0.5, 0.6, 0.2, 1, 0.2).path(),
  keel: () => curve(0, 0, [0.36, 0.04, 0.5, 0.34, 0.5, 0.6], [0.56, 0.6, 0.78, 0.66, 1, 1])
};
function drawn(x, y) {
  const path = new PathBuilder(x, y);
  const pen = {
    line(u, v) {
      path.lineTo(u, v);
      return pen;
    },
    cubic(...c) {
      path.cubicTo(...c);
      return pen;
    },
    /** a quarter of an ellipse: "round" leaves upright and arrives level, "hollow" the other way */
    quarter(u, v, way) {
      const [dx, dy] = [u - path.x, v - path.y];
      if (way === "round") path.cubicTo(path.x, path.y + QUARTER * dy, u - QUARTER * dx, v, u, v);
      else path.cubicTo(path.x + QUARTER * dx, path.y, u, v - QUARTER * dy, u, v);
      return pen;
    },
    /** half an ellipse that ends at the height it began at; below zero a hollow */
    halfRound(u, height) {
      const [x0, y0] = [path.x, path.y];
      const r = (u - x0) / 2;
      path.cubicTo(x0, y0 + QUARTER * height, x0 + r * (1 - QUARTER), y0 + height, x0 + r, y0 + height);
      path.cubicTo(x0 + r * (1 + QUARTER), y0 + height, u, y0 + QUARTER * height, u, y0);
      return pen;
    },
    path: () => path.build(false)
  };
  return pen;
}
function lineProfile(points) {
  const path = new PathBuilder(points[0], points[1]);
  for (let i = 2; i < points.length; i += 2) path.lineTo(points[i], points[i + 1]);
  return path.build(false);
}
function curve(x, y, ...cubics) {
  const path = new PathBuilder(x, y);
  for (const c of cubics) path.cubicTo(...c);
  return path.build(false);
}
function shippedProfile(name, inset, height) {
  if (name === "square" || inset <= 0 && height <= 0) return void 0;
  const unit2 = unitProfiles[name]();
  return scaledProfile(unit2, inset, height);
}
function scaledProfile(profile, sx, sy) {
  return { ...profile, coords: profile.coords.map((v, i) => v * (i % 2 === 0 ? sx : sy)) };
}
function cutProfile(profile, tolerance, lattice, options = {}) {
  const { heightScale = 1, bands = [], longest = Infinity } = options;
  const levels = [];
  const strips = [];
  const risers = [[]];
  if (!profile) return { levels, strips, risers, faceHeight: 0, maxHeight: 0, minHeight: 0 };
  const flat = flattenPath(scaledProfile(profile, 1, heightScale), { tolerance, maxTurn: 12 });
  const coarse = 4 * lattice;
  const n = flat.xy.length / 2;
  const onLevel = (inset) => Math.round(inset / coarse) * coarse;
  const height = (i) => Math.round(flat.xy[2 * i + 1] / lattice) * lattice;
  const borders = bands.flatMap(({ from, to }) => [onLevel(from), onLevel(to)]);
  const bandAt = (inset) => bands.findIndex(({ from, to }) => inset >= onLevel(from) && inset < onLevel(to)) + 1;
  let run = 0;
  let reached = onLevel(flat.xy[0]);
  let maxHeight = height(0);
  let minHeight = height(0);
  for (let i = 0; i + 1 < n; i++) {
    const i0 = reached;
    const i1 = Math.max(reached, onLevel(flat.xy[2 * i + 2]));
    reached = i1;
    const [h0, h1] = [height(i), height(i + 1)];
    const length = Math.hypot(i1 - i0, h1 - h0);
    if (length === 0) continue;
    const t = flat.tangents;
    const pieces = Math.min(64, Math.max(1, Math.ceil(length / longest - 1e-9)));
    const cuts = /* @__PURE__ */ new Set([0, 1]);
    for (let k = 1; k < pieces; k++) cuts.add(i1 > i0 ? (onLevel(i0 + (i1 - i0) * k / pieces) - i0) / (i1 - i0) : k / pieces);
    for (const border of borders) if (border > i0 && border < i1) cuts.add((border - i0) / (i1 - i0));
    const shares = [...cuts].sort((a, b) => a - b);
    const normalAt = (f) => [t[4 * i + 3] * (1 - f) + t[4 * i + 5] * f, t[4 * i + 2] * (1 - f) + t[4 * i + 4] * f];
    for (let k = 0; k + 1 < shares.length; k++) {
      const [f0, f1] = [shares[k], shares[k + 1]];
      const segment = {
        inset0: f0 === 0 ? i0 : onLevel(i0 + (i1 - i0) * f0),
        inset1: f1 === 1 ? i1 : onLevel(i0 + (i1 - i0) * f1),
        height0: f0 === 0 ? h0 : Math.round((h0 + (h1 - h0) * f0) / lattice) * lattice,
        height1: f1 === 1 ? h1 : Math.round((h0 + (h1 - h0) * f1) / lattice) * lattice,
        n0: normalAt(f0),
        n1: normalAt(f1),
        run0: run + length * f0,
        run1: run + length * f1,
        band: bandAt(i0 + (i1 - i0) * (f0 + f1) / 2)
      };
      if (segment.inset1 > segment.inset0) {
        strips.push(segment);
        levels.push(segment.inset1);
        risers.push([]);
      } else if (segment.height1 !== segment.height0) risers[risers.length - 1].push(segment);
    }
    run += length;
    maxHeight = Math.max(maxHeight, h1);
    minHeight = Math.min(minHeight, h1);
  }
  return { levels, strips, risers, faceHeight: height(n - 1), maxHeight, minHeight };
}
function heightAt(cut, strip, inset) {
  const s = cut.strips[strip];
  if (inset <= s.inset0) return s.height0;
  if (inset >= s.inset1) return s.height1;
  return s.height0 + (s.height1 - s.height0) * (inset - s.inset0) / (s.inset1 - s.inset0);
}

// core/src/solid/extrude.ts
init_solid();
function extrudePolygons(set, options) {
  const { lattice } = set;
  const { corners, bands = [], division } = options;
  const depth = Math.max(4 * lattice, snap(options.depth, lattice));
  const heightScale = fittingScale(options, depth, lattice);
  const cut = (profile, scale, named) => cutProfile(profile, options.tolerance, lattice, { heightScale: scale, bands: named, longest: division?.edge });
  const front = cut(options.front, heightScale, bands);
  const back = options.back === options.front && bands.length === 0 ? front : cut(options.back, heightScale, []);
  const surfaceOf = (c) => {
    const { surface } = edgeSurface(set, c.levels, steppedLevels(c), corners);
    return division ? evenCaps(surface, division, lattice) : surface;
  };
  const frontSurface = surfaceOf(front);
  const backSurface = back === front ? frontSurface : surfaceOf(back);
  const mesh = new SideBuilder(set, options.letterAt, corners === "round");
  mesh.side(frontSurface, front, depth - front.maxHeight, 1);
  mesh.side(backSurface, back, back.maxHeight, -1);
  const [zLow, zHigh] = [back.maxHeight, depth - front.maxHeight];
  mesh.frame.walls(mesh.mesh, zLow, zHigh, RETURN, division ? Math.max(1, Math.round((zHigh - zLow) / division.edge)) : 1);
  return {
    solid: mesh.mesh.finish(
      options.letters ?? [],
      bands.map((band) => band.name)
    ),
    approximate: frontSurface.approximate || backSurface.approximate,
    heightScale,
    faceless: !frontSurface.strip.includes(CAP)
  };
}
var steppedLevels = (cut) => cut.risers.slice(1).map((list) => list.length > 0);
function fittingScale(options, depth, lattice) {
  const front = cutProfile(options.front, options.tolerance, lattice);
  const back = options.back === options.front ? front : cutProfile(options.back, options.tolerance, lattice);
  const sunk = (cut, inset) => {
    let height = cut.faceHeight;
    const k = cut.levels.findIndex((d) => inset <= d);
    if (inset === 0) height = Math.min(0, ...cut.risers[0].map((s) => s.height1));
    else if (k >= 0) height = heightAt(cut, k, inset);
    return cut.maxHeight - height;
  };
  let most = 0;
  for (const d of [0, ...front.levels, ...back.levels]) most = Math.max(most, sunk(front, d) + sunk(back, d));
  for (const cut of [front, back]) most = Math.max(most, cut.maxHeight - cut.minHeight);
  return most > depth ? depth / most : 1;
}
var SideBuilder = class {
  constructor(set, letterAt, roundCorners) {
    this.letterAt = letterAt;
    this.roundCorners = roundCorners;
    this.lattice = set.lattice;
    this.mesh = new SolidBuilder(set.lattice);
    this.frame = new OutlineFrame(set.rings, letterAt);
  }
  letterAt;
  roundCorners;
  mesh;
  frame;
  lattice;
  /** One side's edge and face. `base` is z at profile height 0; `up` is 1 for the front, −1 for the back. */
  side(surface, cut, base, up, capGroup = up === 1 ? FACE : BACK) {
    const { x, y, inset, triangles, strip, edge } = surface;
    const { capLevel } = surface;
    const { mesh, frame } = this;
    const complete = capLevel === cut.levels.length - 1;
    const capHeight = complete ? cut.faceHeight : capLevel < 0 ? cut.strips[0].height0 : cut.strips[capLevel].height1;
    const faceZ = base + up * capHeight;
    const level = new Map(cut.levels.map((d, k) => [d, k]));
    const steps = /* @__PURE__ */ new Map();
    const column = new Int32Array(x.length).fill(-1);
    const at = (v, z) => {
      const known = column[v];
      return known >= 0 ? mesh.inColumn(known, x[v], y[v], z) : column[v] = mesh.vertex(x[v], y[v], z);
    };
    this.seenFor = new Int32Array(x.length);
    this.seenX = new Float64Array(x.length);
    this.seenY = new Float64Array(x.length);
    const hasRisers = cut.risers.some((list, l) => l > 0 && list.length > 0);
    const corner = [0, 0, 0];
    for (let i = 0; i < triangles.length; i += 3) {
      const k = strip[i / 3];
      const e = edge[i / 3];
      if (k === CAP) {
        const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]];
        const letter = this.letterAt ? this.letterAt((x[a] + x[b] + x[c]) / 3, (y[a] + y[b] + y[c]) / 3) : NO_LETTER;
        for (let j = 0; j < 3; j++) {
          const v = triangles[i + j];
          corner[j] = at(v, faceZ);
          mesh.setNormal(j, 0, 0, up);
          mesh.setUv(j, x[v], y[v]);
        }
        mesh.triangle(corner[0], corner[1], corner[2], capGroup, letter, up);
      } else {
        const segment = cut.strips[k];
        const point = surface.frames.point[e];
        for (let j = 0; j < 3; j++) {
          const v = triangles[i + j];
          corner[j] = at(v, base + up * snap(heightAt(cut, k, inset[v]), this.lattice));
          this.normal(j, surface, e, v, segment, inset[v], up);
          mesh.setUv(j, frame.along[point] + frame.alongSide(point, x[v], y[v]), runAt(segment, inset[v]));
        }
        mesh.triangle(corner[0], corner[1], corner[2], EDGE, frame.letter[point], up, segment.band);
      }
      if (!hasRisers) continue;
      for (let j = 0; j < 3; j++) {
        const a = triangles[i + j];
        const b = triangles[i + (j + 1) % 3];
        if (inset[a] !== inset[b]) continue;
        const l = level.get(inset[a]);
        if (l === void 0 || cut.risers[l + 1].length === 0 || (k === CAP ? !complete : k <= l)) continue;
        steps.set(a * 67108864 + b, [a, b, l, e]);
      }
    }
    for (const [a, b, l, e] of steps.values()) {
      if (steps.has(b * 67108864 + a)) continue;
      const owner = e >= 0 ? e : this.nearestFrame(surface, a, b);
      for (const riser of cut.risers[l + 1]) this.riser(surface, owner, a, b, riser, base, up);
    }
    const count = frame.next.length;
    for (const riser of cut.risers[0]) {
      for (let i = 0; i < count; i++) this.riser(surface, this.frameOf(surface, i), i, frame.next[i], riser, base, up);
    }
  }
  /** A straight-up piece of the profile over the side a→b. */
  riser(surface, e, a, b, riser, base, up) {
    const { x, y, inset } = surface;
    const { mesh, frame } = this;
    const z0 = base + up * riser.height0;
    const z1 = base + up * riser.height1;
    const sign = riser.height1 > riser.height0 ? 1 : -1;
    const flatSegment = { ...riser, n0: [sign, 0], n1: [sign, 0] };
    const point = surface.frames.point[e];
    const [p, q] = [mesh.vertex(x[a], y[a], z0), mesh.vertex(x[b], y[b], z0)];
    const [s, r] = [mesh.inColumn(p, x[a], y[a], z1), mesh.inColumn(q, x[b], y[b], z1)];
    const ua = frame.along[point] + frame.alongSide(point, x[a], y[a]);
    const ub = frame.along[point] + frame.alongSide(point, x[b], y[b]);
    const letter = frame.letter[point];
    this.normal(0, surface, e, a, flatSegment, inset[a], up);
    this.normal(1, surface, e, b, flatSegment, inset[b], up);
    this.normal(2, surface, e, b, flatSegment, inset[b], up);
    mesh.setUv(0, ua, riser.run0);
    mesh.setUv(1, ub, riser.run0);
    mesh.setUv(2, ub, riser.run1);
    mesh.triangle(p, q, r, EDGE, letter, up, riser.band);
    this.normal(2, surface, e, a, flatSegment, inset[a], up);
    mesh.setUv(1, ub, riser.run1);
    mesh.setUv(2, ua, riser.run1);
    mesh.triangle(p, r, s, EDGE, letter, up, riser.band);
  }
  /** Sets the shading normal of corner j: that of the face of edge e at a vertex, the outline's own tangent there tilted by the profile's. */
  normal(j, surface, e, v, segment, inset, up) {
    const { seenFor, seenX, seenY } = this;
    if (seenFor[v] !== e + 1) {
      this.direction(surface, e, v);
      seenFor[v] = e + 1;
    }
    const f = segment.inset1 > segment.inset0 ? Math.max(0, Math.min(1, (inset - segment.inset0) / (segment.inset1 - segment.inset0))) : 0;
    const out = segment.n0[0] * (1 - f) + segment.n1[0] * f;
    const high = segment.n0[1] * (1 - f) + segment.n1[1] * f;
    const size = Math.sqrt(out * out + high * high) || 1;
    this.mesh.setNormal(j, seenX[v] * out / size, seenY[v] * out / size, up * high / size);
  }
  seenFor = new Int32Array(0);
  seenX = new Float64Array(0);
  seenY = new Float64Array(0);
  /** Works out which way the face of edge e looks in the plane at a vertex. */
  direction(surface, e, v) {
    const { frames, around } = surface;
    const { tangents, next, length: sideLength } = this.frame;
    let hx = 0;
    let hy = 0;
    const point = frames.point[e];
    const end = next[point];
    if (around) {
      const list = around[v];
      if (list)
        for (const f of list) {
          if (f === e) continue;
          const q = frames.point[f];
          if (q === point) {
            if (this.roundCorners) {
              hx += frames.outX[e] + frames.outX[f];
              hy += frames.outY[e] + frames.outY[f];
            }
          } else if (next[q] === point) {
            hx += tangents[4 * point + 3];
            hy -= tangents[4 * point + 2];
          } else if (q === end) {
            hx += tangents[4 * end + 1];
            hy -= tangents[4 * end];
          } else if (frames.outX[e] * frames.outX[f] + frames.outY[e] * frames.outY[f] > 0.9 && this.smoothBetween(q, point)) {
            hx += frames.outX[e] + frames.outX[f];
            hy += frames.outY[e] + frames.outY[f];
          }
        }
    } else {
      const f = Math.max(0, Math.min(1, this.frame.alongSide(point, surface.x[v], surface.y[v]) / sideLength[point]));
      hx = tangents[4 * point + 3] * (1 - f) + tangents[4 * end + 1] * f;
      hy = -tangents[4 * point + 2] * (1 - f) - tangents[4 * end] * f;
    }
    let length = Math.sqrt(hx * hx + hy * hy);
    if (length < 1e-6) {
      hx = frames.outX[e];
      hy = frames.outY[e];
      length = 1;
    }
    this.seenX[v] = hx / length;
    this.seenY[v] = hy / length;
  }
  /** Whether the outline runs smoothly, without a corner, from one point's edge to another's within a few edges. */
  smoothBetween(p, q) {
    const { tangents: t, next } = this.frame;
    for (let way = 0; way < 2; way++) {
      let at = way === 0 ? p : q;
      const to = way === 0 ? q : p;
      for (let i = 0; i < 12; i++) {
        at = next[at];
        if (t[4 * at] * t[4 * at + 2] + t[4 * at + 1] * t[4 * at + 3] < 0.99) break;
        if (at === to) return true;
      }
    }
    return false;
  }
  /** The frame of the outline edge that starts at a point: the last one, extra ones at corners come before it. */
  frameOf(surface, point) {
    if (!this.frames || this.framesOf !== surface) {
      this.framesOf = surface;
      this.frames = new Int32Array(this.frame.next.length);
      for (let e = 0; e < surface.frames.point.length; e++) this.frames[surface.frames.point[e]] = e;
    }
    return this.frames[point];
  }
  frames;
  framesOf;
  /** For a cap's side: the edge whose face lies beyond it. */
  nearestFrame(surface, a, b) {
    const shared = surface.around?.[a]?.filter((e) => surface.around?.[b]?.includes(e)) ?? [];
    if (shared.length > 0) {
      const { outX, outY } = surface.frames;
      const dx = surface.x[b] - surface.x[a];
      const dy = surface.y[b] - surface.y[a];
      return shared.reduce((best2, e) => outX[e] * dy - outY[e] * dx > outX[best2] * dy - outY[best2] * dx ? e : best2);
    }
    const { next, length, x, y } = this.frame;
    const mx = (surface.x[a] + surface.x[b]) / 2;
    const my = (surface.y[a] + surface.y[b]) / 2;
    let best = 0;
    let bestDistance = Infinity;
    for (let i = 0; i < next.length; i++) {
      const f = Math.max(0, Math.min(1, this.frame.alongSide(i, mx, my) / length[i]));
      const j = next[i];
      const d = Math.hypot(x[i] + f * (x[j] - x[i]) - mx, y[i] + f * (y[j] - y[i]) - my);
      if (d < bestDistance) {
        bestDistance = d;
        best = i;
      }
    }
    return this.frameOf(surface, best);
  }
};
function runAt(segment, inset) {
  const f = Math.max(0, Math.min(1, (inset - segment.inset0) / (segment.inset1 - segment.inset0)));
  return segment.run0 + f * (segment.run1 - segment.run0);
}

// core/bench/prof-tmp.mts
await loadManifold();
var glyphs = [];
var prep = [];
var paths0 = [];
for (const shipped of SHIPPED_FACES.slice(0, 12)) {
  const face = await FontFace.open(findFont(shipped.id).bytes, shipped.sha256);
  const s = 40 / face.capHeight;
  for (const character of "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789&@") {
    const [shaped] = face.shape(character, { rightToLeft: false, features: {} });
    const paths = face.outline(shaped.glyph).map((path) => transformPath(path, scaling(s)));
    if (shaped.glyph !== 0 && paths.length > 0) {
      paths0.push(paths);
    }
  }
}
var med = (a) => a.slice().sort((x, y) => x - y)[a.length >> 1].toFixed(2);
for (let r = 0; r < 2; r++) for (const paths of paths0) {
  const t = performance.now();
  const g = regionPolygons({ members: [{ letter: 0, paths }] }, 0.02, 2 ** -14);
  prep.push(performance.now() - t);
  if (r === 0) glyphs.push(g);
}
console.log("prep", med(prep), "points", med(glyphs.map((g) => g.rings.reduce((s, x) => s + x.xy.length / 2, 0))));
for (const [name, edge] of [["chamfer", 1], ["chamfer", 4], ["ogee", 1.5], ["reeds", 2]]) {
  const profile = shippedProfile(name, edge, edge);
  const cut = cutProfile(profile, 0.02, 2 ** -14);
  const a = [], b = [], c = [];
  for (let r = 0; r < 2; r++) for (const g of glyphs) {
    let t = performance.now();
    straightSkeleton(g, { limit: cut.levels.at(-1) });
    a.push(performance.now() - t);
    t = performance.now();
    edgeSurface(g, cut.levels);
    b.push(performance.now() - t);
    t = performance.now();
    extrudePolygons(g, { depth: 10 + 2 * edge, front: profile, back: profile, tolerance: 0.02 });
    c.push(performance.now() - t);
  }
  console.log(name, edge, "levels", cut.levels.length, "skeleton", med(a), "surface", med(b), "extrude", med(c));
}
