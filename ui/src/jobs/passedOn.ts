/** How a cost is passed on, in words. */
export function howPassedOn(passOn: string, markup: string): string {
  if (passOn === 'behalf') return 'as it is, on their behalf';
  if (passOn !== 'supply') return '';
  return markup && markup !== '0' ? `with ${markup} %` : 'at cost';
}
