/** Enter walks to the next field; at the end of a line, to the next line. */
export function walk(e: React.KeyboardEvent<HTMLElement>) {
  const from = e.target as HTMLElement;
  if (e.key !== 'Enter' || e.ctrlKey || e.metaKey || e.shiftKey || from.tagName !== 'INPUT') return;
  // A list that is open takes the key to choose from it.
  if (from.getAttribute('aria-expanded') === 'true' && from.getAttribute('aria-activedescendant')) return;
  const fields = [...e.currentTarget.querySelectorAll<HTMLElement>('[data-walk]:not([disabled])')];
  const next = fields[fields.indexOf(from) + 1];
  if (next) {
    e.preventDefault();
    next.focus();
  }
}
