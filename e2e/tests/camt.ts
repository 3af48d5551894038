// Statements of a made-up bank, as camt.053.

/** A booked line: what came (CRDT) or went (DBIT), on a day, with the bank's own reference, and who says what. */
export function entry(amount: string, side: 'CRDT' | 'DBIT', day: string, ref: string, name: string, said: string): string {
  const other = side === 'CRDT' ? 'Dbtr' : 'Cdtr';
  return `<Ntry><Amt Ccy="EUR">${amount}</Amt><CdtDbtInd>${side}</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>${day}</Dt></BookgDt><AcctSvcrRef>${ref}</AcctSvcrRef><NtryDtls><TxDtls><RltdPties><${other}><Nm>${name}</Nm></${other}></RltdPties><RmtInf><Ustrd>${said}</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry>`;
}

const balance = (code: string, amount: string) =>
  `<Bal><Tp><CdOrPrtry><Cd>${code}</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">${amount}</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-20</Dt></Dt></Bal>`;

/** A statement of the demo firm's account, with what it begins and ends with. */
export const camt = (opening: string, closing: string, ...entries: string[]) =>
  `<Document><BkToCstmrStmt><Stmt><Acct><Id><IBAN>ZZ42SPWI000000000099</IBAN></Id></Acct>${balance('OPBD', opening)}${balance('CLBD', closing)}${entries.join('')}</Stmt></BkToCstmrStmt></Document>`;
