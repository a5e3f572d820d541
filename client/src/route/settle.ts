/** Where a finding is settled, if that is another screen than Route: the reading, the feature, the holding, the
 *  board. */
import type { Finding } from '../api/types'
import { open } from './store'

interface Place { to: string; words: string }

/** Screens by what a finding's code begins with. */
const SCREENS: [RegExp, string, string][] = [
  [/^(reading|operation)\.|^part\.(not_measured|waits)/, 'measure', 'On Measure'],
  [/^(height|bridge)\./, 'layout?topic=saddle', 'On Lay out'],
  [/^edge\./, 'layout?topic=edges', 'On Lay out'],
  [/^part\./, 'layout?topic=parts', 'On Lay out'],
  [/^(blank|material)\./, 'blank', 'On Blank'],
  [/^(hardware|holding|bed|turn|nest|waste_board|zero|travel|jig)\.|^piece\.freed/, 'hold', 'On Hold'],
  [/^(machine|shop)\./, 'shop', 'On Shop'],
  [/^bench\./, 'run', 'On Run'],
  [/^neck\./, 'neck', 'On Neck'],
  [/^(board|slot)\./, 'board', 'On Board'],
]

/** The screen on which a finding is settled; null where that is this one. */
export function settled_at(f: Finding): Place | null {
  const state = open.state
  if (!state) return null
  const at = (view: string, words: string) => ({ to: `/routes/${state.route}/${view}`, words })
  const drawn = state.document.piece.features.some((one) => one.id === f.feature)
  if (/^(feature|hole|cover|guard|screw|cap)\./.test(f.code) && drawn) {
    return at(`layout?topic=draw&shape=${f.feature}`, 'On Lay out')
  }
  const found = SCREENS.find(([code]) => code.test(f.code))
  return found ? at(found[1], found[2]) : null
}
