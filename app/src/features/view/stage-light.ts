import * as THREE from 'three'

/**
 * The default stage's surroundings: a dome and a few soft boxes, evaluated by formula in the shader. A filtered
 * environment texture would take seconds to prepare on a machine without a graphics card (measured: 7 s in software),
 * and a soft box's edge stays crisp on polished metal this way.
 */
interface SoftBox {
  /** where its middle lies, seen from the piece; length does not matter */
  readonly towards: readonly [number, number, number]
  /** half width and half height as tangents of the angle they are seen under */
  readonly half: readonly [number, number]
  readonly light: number
  readonly tint: string
}

const SOFT_BOXES: readonly SoftBox[] = [
  { towards: [-5, 6, 4], half: [0.6, 0.34], light: 4.6, tint: '#fff1dc' }, // key, upper left
  { towards: [6, 3.2, 3], half: [0.13, 0.62], light: 3.4, tint: '#e6f0ff' }, // strip at the right
  { towards: [0.5, 7, -3.5], half: [0.9, 0.2], light: 2.6, tint: '#ffffff' }, // rim from above and behind
  { towards: [-7, 0.6, -2], half: [0.2, 0.5], light: 1.5, tint: '#ffe6c8' },
  { towards: [-2.4, 2.6, 9], half: [0.62, 0.2], light: 1.15, tint: '#fff6ea' }, // behind the camera: what flat faces mirror
  { towards: [0, -4, 6], half: [1.1, 0.16], light: 0.7, tint: '#ffdfb8' }, // thrown back by the ground
]

const number = (v: number) => v.toFixed(5)
const vector = (v: THREE.Vector3) => `vec3(${number(v.x)}, ${number(v.y)}, ${number(v.z)})`

function softBoxCalls(kind: 'radiance' | 'irradiance'): string {
  return SOFT_BOXES.map(({ towards, half, light, tint }) => {
    const forward = new THREE.Vector3(...towards).normalize()
    const right = new THREE.Vector3().crossVectors(new THREE.Vector3(0, 1, 0), forward).normalize()
    const up = new THREE.Vector3().crossVectors(forward, right)
    const c = new THREE.Color(tint).multiplyScalar(light)
    const colour = `vec3(${number(c.r)}, ${number(c.g)}, ${number(c.b)})`
    if (kind === 'radiance')
      return `sum += ${colour} * stageBox(d, ${vector(forward)}, ${vector(right)}, ${vector(up)}, vec2(${number(half[0])}, ${number(half[1])}), blur);`
    // a small source's irradiance: radiance × solid angle × cosine
    const solidAngle = (4 * half[0] * half[1]) / (1 + half[0] ** 2 + half[1] ** 2) ** 0.75
    return `sum += ${colour} * ${number(solidAngle)} * max(0.0, dot(n, ${vector(forward)}) * 0.9 + 0.1);`
  }).join('\n    ')
}

const functions = /* glsl */ `
  vec3 stageDome(vec3 d) {
    float h = d.y * 0.5 + 0.5;
    vec3 low = mix(vec3(0.20, 0.165, 0.125), vec3(0.42, 0.385, 0.34), smoothstep(0.0, 0.5, h));
    return mix(low, vec3(0.56, 0.575, 0.60), smoothstep(0.45, 1.0, h));
  }
  float stageSpan(float x, float half_, float blur) {
    return smoothstep(-half_ - blur, -half_ + blur, x) - smoothstep(half_ - blur, half_ + blur, x);
  }
  float stageBox(vec3 d, vec3 f, vec3 r, vec3 u, vec2 half_, float blur) {
    float depth = dot(d, f);
    if (depth <= 0.02) return 0.0;
    vec2 p = vec2(dot(d, r), dot(d, u)) / depth;
    return stageSpan(p.x, half_.x, blur) * stageSpan(p.y, half_.y, blur) * smoothstep(0.02, 0.3, depth);
  }
  vec3 stageRadiance(vec3 d, float roughness) {
    // half-width of the blur: the specular lobe's, by the usual alpha = roughness squared
    float blur = 0.03 + 1.5 * roughness * roughness;
    vec3 sum = stageDome(d);
    ${softBoxCalls('radiance')}
    return sum;
  }
  vec3 stageIrradiance(vec3 n) {
    vec3 sum = 3.14159265 * stageDome(n) * 0.86;
    ${softBoxCalls('irradiance')}
    return sum;
  }
  vec3 stageWorld(vec3 d) { return (vec4(d, 0.0) * viewMatrix).xyz; }
`

const apply = /* glsl */ `
  #if defined( RE_IndirectDiffuse )
    iblIrradiance += stageIrradiance( stageWorld( geometryNormal ) );
  #endif
  #if defined( RE_IndirectSpecular )
    {
      vec3 mirrored = normalize( mix( reflect( - geometryViewDir, geometryNormal ), geometryNormal, pow4( material.roughness ) ) );
      radiance += stageRadiance( stageWorld( mirrored ), material.roughness );
    }
  #endif
`

/** Makes a standard material stand in the stage's surroundings. Changes and returns the material. */
export function standInStage(material: THREE.MeshStandardMaterial): THREE.MeshStandardMaterial {
  material.onBeforeCompile = (shader) => {
    shader.fragmentShader = shader.fragmentShader
      .replace('#include <lights_physical_pars_fragment>', `#include <lights_physical_pars_fragment>\n${functions}`)
      .replace('#include <lights_fragment_maps>', `#include <lights_fragment_maps>\n${apply}`)
  }
  material.customProgramCacheKey = () => 'kelvar-stage'
  return material
}
