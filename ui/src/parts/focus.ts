// Where the cursor stands: never nowhere.

const fields =
  'input:not([type=hidden]):not([type=file]):not([disabled]), textarea:not([disabled]):not([aria-hidden]), select:not([disabled])';

/** The fields under an element that one can write in, in order. */
export function fieldsOf(root: Element | null): HTMLElement[] {
  return [...(root?.querySelectorAll<HTMLElement>(fields) ?? [])].filter((f) => f.tabIndex >= 0);
}

function isEmpty(f: HTMLElement): boolean {
  return (
    (f as HTMLInputElement).value === '' &&
    !f.hasAttribute('data-filled') &&
    !f.hasAttribute('data-optional') &&
    f.getAttribute('type') !== 'checkbox'
  );
}

/** Goes to the first field that is empty; or, where it is to be looked at, to the first that is filled in. */
export function goToFirst(root: Element | null, said: boolean) {
  if (root?.contains(document.activeElement)) return;
  const all = fieldsOf(root);
  const first = (said ? all.find((f) => f.hasAttribute('data-filled')) : undefined) ?? all.find(isEmpty) ?? all[0];
  first?.focus();
}

/** Whether Enter passes over a field: it says something already, or is seldom said. Tab comes to it. */
export const passedOver = (f: HTMLElement): boolean => f.closest('[data-pass]') !== null;

/** Enter walks to the next field; in a text of several lines it begins a line. */
export function walk(e: React.KeyboardEvent<HTMLElement>) {
  const from = e.target as HTMLElement;
  if (e.key !== 'Enter' || e.ctrlKey || e.metaKey || e.shiftKey || e.defaultPrevented) return;
  if (!['INPUT', 'SELECT'].includes(from.tagName)) return;
  const all = [...e.currentTarget.querySelectorAll<HTMLElement>(`${fields}, [data-walk]`)].filter(
    (f) => f.tabIndex >= 0 && (f === from || !passedOver(f)),
  );
  const next = all[all.indexOf(from) + 1];
  if (!next) return;
  e.preventDefault();
  next.focus();
}
