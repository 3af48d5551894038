import { styled } from '@mui/material/styles';
import { useEffect, useMemo } from 'react';
import { under } from '../api/at';
import type { components } from '../api/schema';
import { show } from '../parts/show';

type Letterhead = components['schemas']['Letterhead'];
type Sheet = components['schemas']['Sheet'];

// A page of A4 at about half its size; it is paper in either theme.
const Leaf = styled('div')(({ theme }) => ({
  backgroundColor: '#fff',
  color: '#23262b',
  border: `1px solid ${theme.vars!.palette.tally.strong}`,
  aspectRatio: '210 / 297',
  padding: '5% 8% 4% 10%',
  fontSize: 8.5,
  lineHeight: 1.35,
  display: 'flex',
  flexDirection: 'column',
  '& img': { maxWidth: '40%', maxHeight: 44, objectFit: 'contain' },
  '& .firm': { fontFamily: theme.typography.h2.fontFamily, fontSize: 13, fontWeight: 600 },
  '& .soft': { color: '#5c574c', whiteSpace: 'pre-line' },
  '& table': { width: '100%', borderCollapse: 'collapse' },
  '& td, & th': { textAlign: 'left', padding: '1.5px 3px', fontWeight: 'inherit' },
  '& td.figure, & th.figure': { textAlign: 'right', fontVariantNumeric: 'tabular-nums' },
}));

interface Props {
  letterhead: Letterhead;
  /** One that is new, or null where it is taken off. */
  picture: File | null | undefined;
  sheet: Sheet;
}

/** The newest invoice as it would go out, on half a page. */
export function LetterheadPreview({ letterhead: l, picture, sheet: s }: Props) {
  const own = useMemo(() => (picture ? URL.createObjectURL(picture) : ''), [picture]);
  useEffect(() => () => URL.revokeObjectURL(own), [own]);
  const logo = own || (l.logo && picture !== null ? under(`/api/v1/letterheads/${l.id}/logo?${l.version}`) : '');
  const colour = /^#[0-9a-f]{6}$/i.test(l.colour ?? '') ? l.colour : '#9a4a1c';
  const columns = s.columns.map((c, n) => ({ ...c, n })).filter((c) => !l.hidden?.includes(c.ours));
  const atRight = l.window === 'right';
  return (
    <Leaf role="img" aria-label={`${s.heading} ${s.number} as it would look`}>
      <div style={{ display: 'flex', justifyContent: 'space-between', flexDirection: atRight ? 'column' : 'row' }}>
        {logo ? <img src={logo} alt="" /> : <span className="firm">{s.firm.name}</span>}
        <span className="soft" style={{ textAlign: atRight ? 'left' : 'right' }}>
          {s.firm.lines}
        </span>
      </div>
      <div style={{ marginTop: 18, marginLeft: atRight ? '58%' : 0 }}>
        <b>{s.to.name}</b>
        <div style={{ whiteSpace: 'pre-line' }}>{s.to.lines}</div>
      </div>
      <div
        style={{
          display: 'flex',
          justifyContent: 'space-between',
          alignItems: 'baseline',
          marginTop: 22,
          borderBottom: `1px solid ${colour}`,
        }}
      >
        <span className="firm" style={{ color: colour, fontSize: 15 }}>
          {s.heading}
        </span>
        <b>{s.number}</b>
      </div>
      <div className="soft" style={{ margin: '5px 0 8px' }}>
        {s.facts.map((f) => `${f.name} ${f.value}`).join(' · ')}
      </div>
      <table>
        <thead>
          <tr style={{ fontWeight: 600, borderBottom: '1px solid #bfb296' }}>
            {columns.map((c) => (
              <th key={c.ours} className={c.figure ? 'figure' : undefined}>
                {c.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {s.rows.slice(0, 4).map((r, i) => (
            <tr key={i}>
              {columns.map((c) => (
                <td key={c.ours} className={c.figure ? 'figure' : undefined}>
                  {r.cells[c.n]}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <table style={{ width: '62%', marginLeft: 'auto', marginTop: 4 }}>
        <tbody>
          {s.sums.map((x, i) => (
            <tr key={i} style={x.look === 'total' || x.look === 'left' ? { fontWeight: 600 } : undefined}>
              <td>{x.name}</td>
              <td className="figure">{show(x.amount)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {s.pay && !l.noBank && (
        <p style={{ display: 'flex', gap: 8, alignItems: 'center' }}>
          {s.pay.code && !l.noCode && (
            <span aria-hidden style={{ width: 34, height: 34, border: '1px dashed #5c574c', fontSize: 7, textAlign: 'center' }}>
              code
            </span>
          )}
          {s.pay.text}
        </p>
      )}
      <div className="soft" style={{ marginTop: 'auto', fontSize: 7 }}>
        {l.foot}
      </div>
    </Leaf>
  );
}
