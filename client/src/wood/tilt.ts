/** The wood in three dimensions: a mesh over the heights, lit by one low light that can be moved round, so that ridges and steps throw shadows of shade. */
import { program_of } from './program'
import type { WoodView } from './view'

export interface Pose { turn_deg: number; lean_deg: number; near: number; light_deg: number; light_up_deg: number; centre: [number, number] }
export interface TiltPainter { /** only: cells to show; the rest is as if cut away. */
  paint(view: WoodView, pose: Pose, quick: boolean, only: Uint8Array | null): void }

const VERTEX = `#version 300 es
precision highp float; precision highp int; precision highp sampler2D;
uniform sampler2D heights; uniform ivec2 size; uniform int skip; uniform float cell; uniform mat4 eye; uniform float bottom;
out vec2 at; out vec3 spot;
void main(){
  int wide = (size.x + skip - 1) / skip + 1;
  ivec2 q = ivec2(gl_VertexID % wide, gl_VertexID / wide) * skip;
  bool rim = q.x == 0 || q.y == 0 || q.x >= size.x || q.y >= size.y;
  ivec2 c = min(q, size - 1);
  float z = rim ? bottom : texelFetch(heights, c, 0).r;
  at = vec2(c) + .5;
  spot = vec3((at - vec2(size) * .5) * cell, z);
  gl_Position = eye * vec4(spot, 1.);
}`
const FRAGMENT = `#version 300 es
precision highp float; precision highp int; precision highp sampler2D;
in vec2 at; in vec3 spot; out vec4 colour;
uniform sampler2D heights; uniform ivec2 size; uniform float cell; uniform float bottom; uniform vec3 light;
float h(ivec2 c){ return texelFetch(heights, clamp(c, ivec2(0), size - 1), 0).r; }
float noise(vec2 q){ vec2 i=floor(q), f=fract(q); f=f*f*(3.-2.*f);
  vec4 n=fract(sin(vec4(dot(i,vec2(12.9,78.2)),dot(i+vec2(1,0),vec2(12.9,78.2)),dot(i+vec2(0,1),vec2(12.9,78.2)),dot(i+vec2(1,1),vec2(12.9,78.2))))*43758.5);
  return mix(mix(n.x,n.y,f.x),mix(n.z,n.w,f.x),f.y); }
void main(){
  ivec2 c = ivec2(at);
  float here = h(c);
  if (max(max(here, h(c+ivec2(1,0))), max(h(c+ivec2(0,1)), spot.z)) <= bottom + .02) { colour = vec4(vec3(205.,196.,178.)/255., 1.); return; }
  float dx = clamp((h(c+ivec2(1,0))-h(c-ivec2(1,0)))/(2.*cell), -30., 30.), dy = clamp((h(c+ivec2(0,1))-h(c-ivec2(0,1)))/(2.*cell), -30., 30.);
  vec3 n = normalize(vec3(-dx, -dy, 1.));
  vec3 face = normalize(cross(dFdx(spot), dFdy(spot)));
  bool wall = abs(face.z) < .3;
  if (wall) n = face;
  float lit = max(dot(n, light), 0.) / max(light.z, .12);
  float blocked = 0.;
  if (wall) lit *= .35; else
  for (int k = 1; k <= 40; k++) { vec2 far = at + normalize(light.xy) * float(k) * 1.5; float up = here + float(k) * 1.5 * cell * light.z / max(length(light.xy), .001); blocked = max(blocked, clamp((h(ivec2(far)) - up) * 2., 0., 1.)); }
  vec2 mm = at * cell;
  float grain = noise(vec2(mm.x*.018+noise(mm*.02)*2., mm.y*.9+noise(vec2(mm.x*.01,mm.y*.05))*5.));
  vec3 tint = vec3(214.,166.,121.)/255. * (1.-.09*grain-.05*noise(vec2(mm.x*.08, mm.y*3.)));
  tint *= .34 + .62 * min(lit, 1.35) * (1. - .75 * blocked);
  colour = vec4(tint, 1.);
}`

const FOCUS = 2.9

/** The directions right, up and toward the eye, and how far the eye is. Lean 90 looks straight down. */
function looking(pose: Pose, long_mm: number): { right: number[]; up: number[]; out: number[]; far: number } {
  const [a, b] = [(pose.turn_deg * Math.PI) / 180, (pose.lean_deg * Math.PI) / 180]
  const right = [Math.cos(a), Math.sin(a), 0]
  const up = [-Math.sin(a) * Math.sin(b), Math.cos(a) * Math.sin(b), Math.cos(b)]
  const out = [Math.sin(a) * Math.cos(b), -Math.cos(a) * Math.cos(b), Math.sin(b)]
  return { right, up, out, far: (long_mm * 1.42) / pose.near }
}

/** Column-major view and perspective: the pose's centre stands in the middle. */
export function eye_of(pose: Pose, long_mm: number, middle_z: number, aspect: number): Float32Array {
  const { right, up, out, far } = looking(pose, long_mm)
  const f = FOCUS
  const [n, m] = [far * 0.05, far * 4]
  const centre = [...pose.centre, middle_z]
  const rows = [right, up, out]
  const shift = rows.map((r) => -(r[0] * centre[0] + r[1] * centre[1] + r[2] * centre[2]))
  shift[2] -= far
  const view = (i: number, j: number) => (j === 3 ? shift[i] : rows[i][j])
  const e = new Float32Array(16)
  for (let j = 0; j < 4; j++) {
    e[4 * j] = (f / aspect) * view(0, j)
    e[4 * j + 1] = f * view(1, j)
    e[4 * j + 2] = ((m + n) / (n - m)) * view(2, j) + (j === 3 ? (2 * m * n) / (n - m) : 0)
    e[4 * j + 3] = -view(2, j)
  }
  return e
}

/** Where the sight through a place of the picture (-1 to 1 each way) meets the height the pose's centre lies at; null beside the horizon. */
export function place_seen(pose: Pose, long_mm: number, aspect: number, px: number, py: number): [number, number] | null {
  const { right, up, out, far } = looking(pose, long_mm)
  const ray = [0, 1, 2].map((k) => (right[k] * px * aspect + up[k] * py) / FOCUS - out[k])
  if (ray[2] > -0.02) return null
  const t = (-out[2] * far) / ray[2]
  return [pose.centre[0] + out[0] * far + ray[0] * t, pose.centre[1] + out[1] * far + ray[1] * t]
}

export function make_tilt_painter(canvas: HTMLCanvasElement): TiltPainter {
  const gl = canvas.getContext('webgl2', { antialias: true, preserveDrawingBuffer: true })
  if (!gl) throw new Error('no WebGL2')
  const program = program_of(gl, VERTEX, FRAGMENT)
  gl.bindTexture(gl.TEXTURE_2D, gl.createTexture())
  for (const name of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER]) gl.texParameteri(gl.TEXTURE_2D, name, gl.NEAREST)
  for (const name of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T]) gl.texParameteri(gl.TEXTURE_2D, name, gl.CLAMP_TO_EDGE)
  gl.enable(gl.DEPTH_TEST)
  const meshes = new Map<number, { buffer: WebGLBuffer; count: number }>()
  const mesh = (nx: number, ny: number, skip: number) => {
    const known = meshes.get(skip)
    if (known) return known
    const [wide, high] = [Math.floor((nx + skip - 1) / skip) + 1, Math.floor((ny + skip - 1) / skip) + 1]
    const index = new Uint32Array((wide - 1) * (high - 1) * 6)
    let k = 0
    for (let j = 0; j + 1 < high; j++) for (let i = 0; i + 1 < wide; i++) {
      const a = j * wide + i
      index.set([a, a + 1, a + wide, a + 1, a + wide + 1, a + wide], k)
      k += 6
    }
    const buffer = gl.createBuffer()!
    gl.bindBuffer(gl.ELEMENT_ARRAY_BUFFER, buffer)
    gl.bufferData(gl.ELEMENT_ARRAY_BUFFER, index, gl.STATIC_DRAW)
    const made = { buffer, count: index.length }
    meshes.set(skip, made)
    return made
  }
  const place = (name: string) => gl.getUniformLocation(program, name)
  return {
    paint(view, pose, quick, only) {
      const { nx, ny, cell_mm, z_offset_mm } = view.header
      gl.viewport(0, 0, canvas.width, canvas.height)
      gl.clearColor(0, 0, 0, 0)
      gl.clear(gl.COLOR_BUFFER_BIT | gl.DEPTH_BUFFER_BIT)
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.R32F, nx, ny, 0, gl.RED, gl.FLOAT, only ? view.heights.map((z, k) => (only[k] ? z : z_offset_mm)) : view.heights)
      const skip = quick ? 4 : 2
      gl.uniform2i(place('size'), nx, ny)
      gl.uniform1i(place('skip'), skip)
      gl.uniform1f(place('cell'), cell_mm)
      gl.uniform1f(place('bottom'), z_offset_mm)
      const [a, u] = [((pose.light_deg) * Math.PI) / 180, (pose.light_up_deg * Math.PI) / 180]
      gl.uniform3f(place('light'), Math.cos(a) * Math.cos(u), Math.sin(a) * Math.cos(u), Math.sin(u))
      gl.uniformMatrix4fv(place('eye'), false, eye_of(pose, Math.max(nx, ny) * cell_mm, z_offset_mm / 2, canvas.width / canvas.height))
      const { buffer, count } = mesh(nx, ny, skip)
      gl.bindBuffer(gl.ELEMENT_ARRAY_BUFFER, buffer)
      gl.drawElements(gl.TRIANGLES, count, gl.UNSIGNED_INT, 0)
    },
  }
}
