import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import { styled } from '@mui/material/styles';
import { Fragment, memo, useCallback, useRef, useState } from 'react';
import { flushSync } from 'react-dom';
import type { Effect, InvoiceBody, InvoiceLineBody, TaxCode } from '../api/client';
import { Amount } from '../parts/Amount';
import { fieldsOf } from '../parts/focus';
import { useFirm, useTaxCodes } from '../parts/records';
import { Room } from '../parts/Room';
import { show } from '../parts/show';
import { useWindow } from '../parts/useWindow';
import { usePaperForm } from './editing/Editing';
import { useValue, type Refused } from './editing/useForm';
import { InvoiceLine } from './InvoiceLine';
import { isBlank } from './invoiceLines';
import { stepped, type LineStep } from './lineSteps';
import { taxShort } from './TaxCodeField';
import { overWithFile } from '../parts/FileField';
import { usePastedLines } from './usePastedLines';

interface Props {
  effect: Effect | undefined;
  refused: Refused;
}

const none: InvoiceLineBody[] = [];
const next: InvoiceLineBody = {};

/** The lines with one that is empty at the end, for what comes next. */
export function withNext(lines: InvoiceLineBody[]): InvoiceLineBody[] {
  return lines.length > 0 && isBlank(lines[lines.length - 1]) ? lines : [...lines, next];
}

/** The lines of an invoice: the one in hand is written in, the others are text until one comes to them. */
export function InvoiceLines({ effect, refused }: Props) {
  const form = usePaperForm<InvoiceBody>();
  const lines = useValue(form, (b) => b.lines ?? none);
  const codes = useTaxCodes().data?.rows;
  const all = withNext(lines);
  const [hand, setHand] = useState(all.length - 1);
  const held = Math.min(hand, all.length - 1);
  const window = useWindow(all.length, 33, held);
  const table = window.ref;
  const taxCode = useFirm().data?.taxCode ?? 0;
  const paste = usePastedLines(['text', 'quantity', 'price', 'percent'], (rows, at) =>
    form.change((now) => {
      const lines = rows.map(([text, quantity, unitPrice, discountPercent]) => ({
        text,
        quantity,
        unitPrice,
        discountPercent,
        taxCode,
      }));
      const old = (now.lines ?? []).filter((l, i) => i !== at || !isBlank(l));
      return { lines: old.toSpliced(Math.min(at, old.length), 0, ...lines) };
    }),
  );
  const column = useRef(-1); // that was clicked

  const take = useCallback(
    (n: number, row: HTMLElement, from: Element | null, at: number) => {
      const back = !!from && !!(row.compareDocumentPosition(from) & Node.DOCUMENT_POSITION_FOLLOWING);
      flushSync(() => setHand(n));
      const fields = fieldsOf(table.current?.querySelector('[data-hand]') ?? null);
      const clicked = fields.find((f) => f.closest('td')?.cellIndex === at);
      (clicked ?? (back ? fields.at(-1) : fields[0]))?.focus();
    },
    [table],
  );
  const step = async (n: number, how: LineStep) => {
    // What is still being understood belongs to the line where it was typed.
    await form.settled();
    const [to, at] = stepped(withNext(form.body.lines ?? none), n, how, () => next);
    flushSync(() => {
      form.change({ lines: to });
      setHand(Math.max(0, at));
    });
    fieldsOf(table.current?.querySelector('[data-hand]') ?? null)[0]?.focus();
  };
  return (
    <Table aria-label="Lines" ref={table} sx={{ tableLayout: 'fixed' }} aria-rowcount={all.length + 1} data-field="lines">
      <TableHead>
        <TableRow>
          <TableCell>What</TableCell>
          <TableCell align="right" sx={{ width: 72 }}>
            Quantity
          </TableCell>
          <TableCell align="right" sx={{ width: 98 }}>
            Unit price
          </TableCell>
          <TableCell align="right" sx={{ width: 88 }}>
            Discount
          </TableCell>
          <TableCell sx={{ width: 122 }}>Tax</TableCell>
          <TableCell align="right" sx={{ width: 100 }}>
            Net
          </TableCell>
        </TableRow>
      </TableHead>
      <TableBody onPaste={(e) => paste.onPaste(e, held)} onDrop={(e) => paste.onDrop(e, held)} onDragOver={overWithFile}>
        {window.rows.map(({ index: n, room }) => (
          <Fragment key={n}>
            <Room height={room} columns={6} />
            {n === held ? (
              <InvoiceLine
                n={n}
                line={all[n]!}
                sum={effect?.paper?.lines?.[n]?.amount}
                refused={refused}
                measure={window.measure}
                onStep={(n, how) => void step(n, how)}
              />
            ) : (
              <TextLine
                n={n}
                line={all[n]!}
                codes={codes}
                sum={effect?.paper?.lines?.[n]?.amount}
                refused={lineRefused(refused, n)}
                measure={window.measure}
                column={column}
                onTake={take}
              />
            )}
          </Fragment>
        ))}
        <Room height={window.after} columns={6} />
      </TableBody>
    </Table>
  );
}

const parts = ['text', 'quantity', 'unitPrice', 'discount', 'taxCode', 'account'];

/** What is said of any field of a line. */
function lineRefused(refused: Refused, n: number): string {
  for (const part of parts) {
    const said = refused(`lines[${n}].${part}`);
    if (said) return said;
  }
  return '';
}

const Row = styled('tr')(({ theme }) => ({
  cursor: 'text',
  '& td': {
    padding: '5px 8px',
    borderBottom: `1px solid ${theme.vars!.palette.tally.rule}`,
    overflow: 'hidden',
    textOverflow: 'ellipsis',
    whiteSpace: 'nowrap',
    lineHeight: '22px',
    color: theme.vars!.palette.text.primary,
  },
  '& td.figure': { textAlign: 'right', fontVariantNumeric: 'tabular-nums lining-nums' },
  '& td.soft': { color: theme.vars!.palette.text.secondary },
  '&[data-refused] td': { color: theme.vars!.palette.error.main },
  '&:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: -2 },
}));

interface TextProps {
  n: number;
  line: InvoiceLineBody;
  codes: TaxCode[] | undefined;
  sum: string | undefined;
  refused: string;
  measure: (row: HTMLElement | null) => void;
  column: React.RefObject<number>;
  onTake: (n: number, row: HTMLElement, from: Element | null, column: number) => void;
}

/** A line that is not in hand: its text, until one comes to it. */
const TextLine = memo(function TextLine({ n, line, codes, sum, refused, measure, column, onTake }: TextProps) {
  const blank = isBlank(line);
  return (
    <Row
      ref={measure}
      data-index={n}
      data-line={n}
      data-walk
      data-refused={refused || undefined}
      tabIndex={0}
      title={refused || undefined}
      aria-rowindex={n + 2}
      onMouseDown={(e) => (column.current = (e.target as Element).closest('td')?.cellIndex ?? -1)}
      onFocus={(e) => {
        const at = column.current;
        column.current = -1;
        onTake(n, e.currentTarget, e.relatedTarget, at);
      }}
    >
      <td className={blank ? 'soft' : undefined} title={line.text}>
        {blank ? 'Next line: type what you did, or an article' : line.text}
      </td>
      <td className="figure">{line.quantity ? `${show(line.quantity)} ${line.unit ?? ''}` : ''}</td>
      <td className="figure">{show(line.unitPrice)}</td>
      <td className="figure">{line.discountPercent ? `${line.discountPercent} %` : show(line.discount)}</td>
      <td>{blank ? '' : taxShort(codes?.find((c) => c.id === line.taxCode))}</td>
      <td className="figure">{!blank && <Amount value={sum} />}</td>
    </Row>
  );
});
