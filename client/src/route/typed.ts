/** Whether somebody is in the midst of typing: then a field's own undo is meant, else the job's. */
let began = new WeakMap<EventTarget, string>()

const is_text = (at: EventTarget | null): at is HTMLInputElement | HTMLTextAreaElement =>
  at instanceof HTMLTextAreaElement
  || (at instanceof HTMLInputElement && /^(text|search|)$/.test(at.type) && !at.readOnly)

/** A field was entered: what stands in it now is what it began with. */
export function entered(event: FocusEvent): void {
  began = new WeakMap()
  if (is_text(event.target)) began.set(event.target, event.target.value)
}

/** Whether a field holds other text than it began with; Enter, which keeps it, is a new beginning. */
export function typed_here(at: HTMLElement): boolean {
  return is_text(at) && began.has(at) && at.value !== began.get(at)
}

window.addEventListener('keydown', (event) => {
  const at = event.target
  if (event.key === 'Enter' && at instanceof HTMLInputElement && is_text(at)) began.set(at, at.value)
}, true)
