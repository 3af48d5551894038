/** What an invoice is called in the course of a contract. */
export const formNames: Record<string, string> = { stage: 'Stage invoice', final: 'Final invoice', 'late charge': 'Late charge' };
