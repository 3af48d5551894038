import { useContext } from 'react';
import type { InvoiceBody, OrderBody, QuoteBody } from '../api/client';
import { useCustomer } from '../parts/records';
import { Lines, Totals, Two } from '../parts/Sheet';
import { PaperCurrency } from './CurrencyFields';
import { EditingPlace, usePaperForm } from './editing/Editing';
import { Figure, Text } from './editing/fields';
import { useValue } from './editing/useForm';
import { Sums, WaysOf } from './InvoiceFoot';
import { InvoiceLines } from './InvoiceLines';
import { PartyFields } from './PartyFields';
import { Facts, Label, SheetHead, small } from './SheetHead';

/** A quote or an order on its sheet: who ordered what, for which job. Its lines are those of an invoice. */
export default function OrderFields() {
  const { command, refused, kind } = useContext(EditingPlace)!;
  const form = usePaperForm<InvoiceBody>();
  const to = useValue(form, (b) => b.customer ?? 0);
  const job = useValue(form, (b) => b.job ?? 0);
  const day = useValue(form, (b) => b.day);
  const follows = useValue(form, (b) => !!(b as OrderBody).quote || !!(b as QuoteBody).revises);
  const customer = useCustomer(to).data;
  const paper = command.effect?.paper;
  const quoted = kind === 'quote';
  return (
    <>
      <SheetHead title={quoted ? 'Quote' : 'Order'} number={paper?.number} />
      <Facts>
        <PartyFields
          customer={to}
          job={job}
          onChange={(customer, job) => form.change({ customer, job })}
          onSheet
          refused={refused}
        >
          {(who, jobField) => (
            <>
              <div>
                <Label>{quoted ? 'For' : 'From'}</Label>
                {who}
                <Lines text={customer?.id === to ? customer.printed : ''} />
              </div>
              <div>
                <Label>Date</Label>
                <Figure kind="day" label="Date" name="day" onSheet />
              </div>
              <div>
                {quoted ? (
                  <>
                    <Label>Holds through</Label>
                    <Figure kind="due" label="Holds through" name="holds" onSheet width={110} placeholder="30 days" />
                  </>
                ) : (
                  <>
                    <Label>Their order number</Label>
                    <Text variant="standard" name="reference" label="Their order number" sx={small} fullWidth />
                  </>
                )}
              </div>
              <div>
                <Label>Job</Label>
                {jobField}
              </div>
            </>
          )}
        </PartyFields>
      </Facts>
      <PaperCurrency party={to} day={day} follows={follows} />
      <InvoiceLines effect={command.effect} refused={refused} />
      <Two>
        <WaysOf form={form} refused={refused} />
        <Totals>
          <tbody>
            <Sums paper={paper} />
          </tbody>
        </Totals>
      </Two>
      <Text
        variant="standard"
        fullWidth
        multiline
        name="note"
        label="Note"
        placeholder={quoted ? 'A note to the customer' : 'A note on the order'}
        sx={{ ...small, mt: 2 }}
      />
    </>
  );
}
