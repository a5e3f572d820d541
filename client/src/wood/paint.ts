/** Painting the wood: WebGL2 where there is one, a relief-shaded 2D canvas otherwise. Light comes low from the upper left. */
import { program_of } from './program'
import { OUTSIDE, UNJUDGED } from './target'
import type { WoodView } from './view'

export interface Field { of: 'thick' | 'target'; values: Float32Array }

export interface Painter {
  readonly kind: 'webgl' | '2d'
  /** field: paint this in bands instead of the wood: a thickness, or what stands over the target. */
  paint(view: WoodView, top_mm: number, field?: Field): void
}

const WOOD: [number, number, number] = [214, 166, 121]
const BED: [number, number, number] = [205, 196, 178]

/** Thickness in bands of 5 mm, pale where there is much wood; the first two bands stand out. */
export const BANDS: [number, number, number][] = [[165, 48, 26], [240, 177, 60], [150, 106, 72], [166, 122, 86], [182, 139, 101], [197, 156, 118], [211, 174, 137], [223, 191, 158], [232, 206, 178], [240, 221, 198]]
export const BAND_MM = 5

/** Against the drawing: too deep (hatched), as drawn, still standing. A band begins at its height over the drawing. */
export const OVER: { from_mm: number; colour: [number, number, number] }[] = [
  { from_mm: -1e3, colour: [120, 24, 10] }, { from_mm: -1, colour: [178, 58, 34] }, { from_mm: -0.2, colour: [226, 132, 106] },
  { from_mm: -0.035, colour: [244, 238, 226] },
  { from_mm: 0.035, colour: [226, 205, 165] }, { from_mm: 0.2, colour: [205, 163, 104] }, { from_mm: 1, colour: [160, 112, 60] }, { from_mm: 5, colour: [106, 70, 36] }]
const HATCHED = 3
export const band_of = (over_mm: number) => OVER.reduce((found, band, k) => (over_mm >= band.from_mm ? k : found), 0)

const VERTEX = `#version 300 es
in vec2 p; out vec2 uv; void main(){ uv = p*.5+.5; gl_Position = vec4(p,0.,1.); }`
const FRAGMENT = `#version 300 es
precision highp float; precision highp sampler2D;
in vec2 uv; out vec4 colour;
uniform sampler2D heights; uniform vec2 size; uniform float cell; uniform float top; uniform float bottom; uniform vec3 wood; uniform vec3 bed; uniform int mode; uniform vec3 bands[10]; uniform vec3 over[8]; uniform float from[8];
float h(ivec2 c){ return texelFetch(heights, clamp(c, ivec2(0), ivec2(size)-1), 0).r; }
float noise(vec2 q){ vec2 i=floor(q), f=fract(q); f=f*f*(3.-2.*f);
  vec4 n=fract(sin(vec4(dot(i,vec2(12.9,78.2)),dot(i+vec2(1,0),vec2(12.9,78.2)),dot(i+vec2(0,1),vec2(12.9,78.2)),dot(i+vec2(1,1),vec2(12.9,78.2))))*43758.5);
  return mix(mix(n.x,n.y,f.x),mix(n.z,n.w,f.x),f.y); }
void main(){
  vec2 at = uv*size; ivec2 c = ivec2(at); float z = h(c);
  if (mode == 1) {
    if (z < 0.) { colour = vec4(bed, 1.); return; }
    int k = clamp(int(z/5.), 0, 9);
    bool rim = int(max(h(c+ivec2(1,0)),0.)/5.) != int(z/5.) || int(max(h(c+ivec2(0,1)),0.)/5.) != int(z/5.);
    colour = vec4(bands[k]*(rim ? .55 : 1.), 1.); return; }
  if (mode == 2) {
    bool dotted = mod(at.x+at.y, 6.) < 1.2;
    if (z > 1.5e4) { colour = vec4(dotted ? vec3(.62,.58,.52) : vec3(.85,.82,.76), 1.); return; }
    if (z > 5e3) { colour = vec4(bed, 1.); return; }
    int k = 0; for (int i=1;i<8;i++) if (z >= from[i]) k = i;
    colour = vec4(k < 3 && mod(at.x-at.y, 10.) < 3. ? vec3(.98) : over[k], 1.); return; }
  if (z <= bottom+.011) {
    float edge = max(max(h(c+ivec2(-3,0)),h(c+ivec2(0,3))),h(c+ivec2(-3,3)));
    colour = vec4(bed*(edge > bottom+1. ? .82 : 1.), 1.); return; }
  float dx = (h(c+ivec2(1,0))-h(c-ivec2(1,0)))/(2.*cell), dy = (h(c+ivec2(0,1))-h(c-ivec2(0,1)))/(2.*cell);
  vec3 n = normalize(vec3(-dx,-dy,1.4));
  float light = dot(n, normalize(vec3(-.55,.6,.95)))/.78;
  vec2 mm = at*cell;
  float grain = noise(vec2(mm.x*.018+noise(mm*.02)*2., mm.y*.9+noise(vec2(mm.x*.01,mm.y*.05))*5.));
  float fine = noise(vec2(mm.x*.08, mm.y*3.));
  float shade = 0.;
  for (int k=1;k<=4;k++){ ivec2 s=ivec2(-2*k,2*k); shade += max(0., h(c+s)-z - float(k)*1.1); }
  float deep = clamp((top-z)/45.,0.,1.);
  vec3 tint = wood*(1.-.10*grain-.05*fine);
  tint *= clamp(light,.45,1.12) * (1.-.42*deep) * (1.-clamp(shade*.012,0.,.32));
  colour = vec4(tint,1.);
}`

export function make_painter(canvas: HTMLCanvasElement, allow_webgl = true): Painter {
  const gl = allow_webgl ? canvas.getContext('webgl2', { antialias: false, preserveDrawingBuffer: true }) : null
  return gl ? webgl_painter(canvas, gl) : flat_painter(canvas)
}

function webgl_painter(canvas: HTMLCanvasElement, gl: WebGL2RenderingContext): Painter {
  const program = program_of(gl, VERTEX, FRAGMENT)
  gl.bindBuffer(gl.ARRAY_BUFFER, gl.createBuffer())
  gl.bufferData(gl.ARRAY_BUFFER, new Float32Array([-1, -1, 3, -1, -1, 3]), gl.STATIC_DRAW)
  const p = gl.getAttribLocation(program, 'p')
  gl.enableVertexAttribArray(p)
  gl.vertexAttribPointer(p, 2, gl.FLOAT, false, 0, 0)
  gl.bindTexture(gl.TEXTURE_2D, gl.createTexture())
  for (const name of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER]) gl.texParameteri(gl.TEXTURE_2D, name, gl.NEAREST)
  for (const name of [gl.TEXTURE_WRAP_S, gl.TEXTURE_WRAP_T]) gl.texParameteri(gl.TEXTURE_2D, name, gl.CLAMP_TO_EDGE)
  const place = (name: string) => gl.getUniformLocation(program, name)
  return {
    kind: 'webgl',
    paint(view, top_mm, field) {
      const { nx, ny, cell_mm, z_offset_mm } = view.header
      gl.viewport(0, 0, canvas.width, canvas.height)
      gl.texImage2D(gl.TEXTURE_2D, 0, gl.R32F, nx, ny, 0, gl.RED, gl.FLOAT, field?.values ?? view.heights)
      gl.uniform1i(place('mode'), !field ? 0 : field.of === 'thick' ? 1 : 2)
      gl.uniform3fv(place('bands'), BANDS.flat().map((v) => v / 255))
      gl.uniform3fv(place('over'), OVER.flatMap((b) => b.colour).map((v) => v / 255))
      gl.uniform1fv(place('from'), OVER.map((b) => b.from_mm))
      gl.uniform2f(place('size'), nx, ny)
      gl.uniform1f(place('cell'), cell_mm)
      gl.uniform1f(place('top'), top_mm)
      gl.uniform1f(place('bottom'), z_offset_mm)
      gl.uniform3f(place('wood'), WOOD[0] / 255, WOOD[1] / 255, WOOD[2] / 255)
      gl.uniform3f(place('bed'), BED[0] / 255, BED[1] / 255, BED[2] / 255)
      gl.drawArrays(gl.TRIANGLES, 0, 3)
    },
  }
}

function flat_painter(canvas: HTMLCanvasElement): Painter {
  const context = canvas.getContext('2d')!
  return {
    kind: '2d',
    paint(view, top_mm, field) {
      const { nx, ny, cell_mm, z_offset_mm } = view.header
      const z = field?.values ?? view.heights
      const wide = canvas.width
      const high = canvas.height
      const image = context.createImageData(wide, high)
      const pixels = new Uint32Array(image.data.buffer)
      for (let py = 0; py < high; py++) {
        const j = Math.min(ny - 2, Math.max(1, Math.floor(((high - 1 - py) / high) * ny)))
        for (let px = 0; px < wide; px++) {
          const i = Math.min(nx - 2, Math.max(1, Math.floor((px / wide) * nx)))
          const k = j * nx + i
          let r = BED[0]
          let g = BED[1]
          let b = BED[2]
          if (field?.of === 'target') {
            const band = band_of(z[k])
            const colour = z[k] === UNJUDGED ? ((px + py) % 6 < 1 ? [158, 148, 133] : [217, 209, 194]) : z[k] === OUTSIDE ? BED : band < HATCHED && (((px - py) % 10) + 10) % 10 < 3 ? [250, 250, 250] : OVER[band].colour
            ;[r, g, b] = colour
          } else if (field) {
            if (z[k] >= 0) {
              const band = Math.min(9, Math.floor(z[k] / BAND_MM))
              const dim = Math.floor(Math.max(z[k + 1], 0) / BAND_MM) !== Math.floor(z[k] / BAND_MM) || Math.floor(Math.max(z[k + nx], 0) / BAND_MM) !== Math.floor(z[k] / BAND_MM) ? 0.55 : 1
              r = BANDS[band][0] * dim
              g = BANDS[band][1] * dim
              b = BANDS[band][2] * dim
            }
          } else if (z[k] > z_offset_mm + 0.011) {
            const dx = (z[k + 1] - z[k - 1]) / (2 * cell_mm)
            const dy = (z[k + nx] - z[k - nx]) / (2 * cell_mm)
            const light = (0.41 * dx - 0.45 * dy + 1) / Math.sqrt(dx * dx + dy * dy + 1.96) * 1.4
            const shade = Math.min(1.12, Math.max(0.45, light)) * (1 - 0.42 * Math.min(1, (top_mm - z[k]) / 45)) * (0.97 + 0.03 * Math.sin(j * 0.7 + Math.sin(i * 0.011) * 4))
            r = WOOD[0] * shade
            g = WOOD[1] * shade
            b = WOOD[2] * shade
          }
          pixels[py * wide + px] = 0xff000000 | (Math.min(255, b) << 16) | (Math.min(255, g) << 8) | Math.min(255, r)
        }
      }
      context.putImageData(image, 0, 0)
    },
  }
}
