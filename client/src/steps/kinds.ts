/** Kinds of work at the bench, in words. */
import type { BenchStep } from '../api/types'

export const KINDS: { title: string; value: BenchStep['kind'] }[] = [
  { title: 'Joint edges', value: 'joint' }, { title: 'Fit dry', value: 'dry_fit' }, { title: 'Glue', value: 'glue' },
  { title: 'Wait', value: 'wait' }, { title: 'Plane', value: 'plane' }, { title: 'Measure', value: 'measure' },
  { title: 'Mark', value: 'mark' }, { title: 'Drill', value: 'drill' }, { title: 'Chisel', value: 'chisel' },
  { title: 'Round an edge', value: 'edge' }, { title: 'Saw and trim', value: 'trim' },
  { title: 'Let rest', value: 'rest' }, { title: 'Sand', value: 'sand' }, { title: 'Inspect', value: 'inspect' },
  { title: 'Other', value: 'other' },
]
