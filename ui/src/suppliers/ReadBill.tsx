import Button from '@mui/material/Button';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { api, data, type Notice } from '../api/client';
import type { components } from '../api/schema';
import { FileField } from '../parts/FileField';
import { useBack } from '../parts/keys';
import { Empty, Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Notices, toNotices } from '../parts/Notices';

type Read = components['schemas']['ReadBill'];

/** A supplier's electronic invoice is read into a draft of a bill, its picture beside it. */
export default function ReadBill() {
  const [read, setRead] = useState<Read | null>(null);
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const client = useQueryClient();
  const go = useNavigate();
  useBack(useLeave('/customers/suppliers'));
  const take = async (file: File) => {
    try {
      const found = await data(
        api.POST('/api/v1/supplier-bills/read', {
          body: file as unknown as string,
          bodySerializer: (b) => b,
          headers: { 'Content-Type': 'application/octet-stream' },
        }),
      );
      setRefusals([]);
      await client.invalidateQueries();
      if (found.says.length === 0) void go(`/papers/drafts/${found.draft}`, { replace: true });
      else setRead(found);
    } catch (e) {
      setRead(null);
      setRefusals(toNotices(e));
    }
  };
  return (
    <Page>
      <PageHead title="Read an electronic invoice" under="Of a supplier, into a bill that you look at before it is posted">
        <FileField accept=".xml,application/xml,text/xml" onFile={(f) => void take(f)}>
          Choose a file
        </FileField>
      </PageHead>
      <Notices refusals={refusals} />
      {read ? (
        <section aria-label="What was read">
          <p style={{ marginTop: 0 }}>
            A bill of {read.supplier} waits as <Link to={`/papers/drafts/${read.draft}`}>a draft</Link>. Look at this first:
          </p>
          <ul>
            {read.says.map((s, n) => (
              <li key={n}>{s}</li>
            ))}
          </ul>
          <Button variant="contained" autoFocus onClick={() => void go(`/papers/drafts/${read.draft}`, { replace: true })}>
            Open the draft
          </Button>
        </section>
      ) : (
        <Empty>Choose the file, or drop it on the button. Nothing is posted by it.</Empty>
      )}
      <Margin>
        <ListNote title="Electronic invoices">
          Files of the European norm EN 16931 are read: lines, taxes, due date, and whom it is from. The file, and the picture
          inside it, are attached to the draft.
        </ListNote>
      </Margin>
    </Page>
  );
}
