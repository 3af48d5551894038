import { Suspense, useState } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { Failure, Page } from '../parts/Layout';
import { useSession } from '../parts/records';
import { showAs } from '../parts/show';
import {
  Invited,
  SetUp,
  WordPage,
  Desk,
  CustomerList,
  CustomerPage,
  StatementPage,
  AllStatements,
  LateCharges,
  SupplierList,
  SupplierPage,
  CostList,
  CreditsPage,
  MarginList,
  BankFile,
  StockPage,
  RecurringInvoices,
  ChequePage,
  JobList,
  JobPage,
  PaperList,
  PaperPage,
  MailPage,
  Reminders,
  ReadBill,
  Outbox,
  PrintPapers,
  DraftPage,
  BankPlace,
  BankLines,
  CountPage,
  ReconcilePage,
  SeveralLines,
  LedgerPlace,
  AccountPage,
  SetupPlace,
} from './pages';
import { Shell } from './Shell';
import { SignIn } from './SignIn';

/** The whole interface: signing in, setting up, or the six places. */
export function App() {
  const session = useSession();
  const [entered, setEntered] = useState(false);
  if (session.isError && !session.data)
    return (
      <Page>
        <Failure error={session.error} />
      </Page>
    );
  if (!session.data) return null;
  if (!session.data.setUp)
    return (
      <Suspense fallback={null}>
        <SetUp />
      </Suspense>
    );
  const { dateStyle, numberStyle } = session.data;
  showAs(dateStyle, numberStyle);
  // A session that ends leaves what is on screen: it is asked for again over it.
  if (session.data.signedIn && !entered) setEntered(true);
  if (!session.data.signedIn && !entered)
    return (
      <Suspense fallback={null}>
        <Routes>
          <Route path="invited" element={<Invited />} />
          <Route path="*" element={<SignIn />} />
        </Routes>
      </Suspense>
    );
  return (
    <Routes>
      {/* Everything is drawn anew when the firm writes otherwise. */}
      <Route element={<Shell key={dateStyle + numberStyle} />}>
        <Route index element={<Navigate to="/desk" replace />} />
        <Route path="desk" element={<Desk />} />
        <Route path="desk/words/:id" element={<WordPage />} />
        <Route path="customers" element={<CustomerList />} />
        <Route path="customers/statements" element={<AllStatements />} />
        <Route path="customers/reminders" element={<Reminders />} />
        <Route path="customers/late" element={<LateCharges />} />
        <Route path="customers/suppliers" element={<SupplierList />} />
        <Route path="customers/suppliers/:id" element={<SupplierPage />} />
        <Route path="papers/recurring" element={<RecurringInvoices />} />
        <Route path="customers/:id" element={<CustomerPage />} />
        <Route path="customers/:id/statement" element={<StatementPage />} />
        <Route path="jobs" element={<JobList />} />
        <Route path="jobs/costs" element={<CostList />} />
        <Route path="jobs/margins" element={<MarginList />} />
        <Route path="jobs/:id" element={<JobPage />} />
        <Route path="papers" element={<PaperList />} />
        <Route path="papers/credits" element={<CreditsPage />} />
        <Route path="papers/credits/:view" element={<CreditsPage />} />
        <Route path="papers/cheques" element={<ChequePage />} />
        <Route path="papers/read" element={<ReadBill />} />
        <Route path="papers/mail" element={<MailPage />} />
        <Route path="papers/outbox" element={<Outbox />} />
        <Route path="papers/outbox/:id" element={<Outbox />} />
        <Route path="papers/print" element={<PrintPapers />} />
        <Route path="papers/bank-file" element={<BankFile />} />
        <Route path="papers/:id" element={<PaperPage />} />
        <Route path="papers/new/:kind" element={<DraftPage />} />
        <Route path="papers/drafts/:id" element={<DraftPage />} />
        <Route path="bank" element={<BankPlace />} />
        <Route path="bank/:id" element={<BankLines />} />
        <Route path="bank/:id/reconcile" element={<ReconcilePage />} />
        <Route path="bank/:id/several" element={<SeveralLines />} />
        <Route path="bank/:id/count" element={<CountPage />} />
        <Route path="ledger" element={<Navigate to="/ledger/accounts" replace />} />
        <Route path="ledger/accounts/:id" element={<AccountPage />} />
        <Route path="ledger/stock/:id" element={<StockPage />} />
        <Route path="ledger/:view" element={<LedgerPlace />} />
        <Route path="invited" element={<Navigate to="/desk" replace />} />
        <Route path="setup" element={<Navigate to="/setup/firm" replace />} />
        <Route path="setup/:section" element={<SetupPlace />} />
        <Route path="*" element={<Nowhere />} />
      </Route>
    </Routes>
  );
}

function Nowhere() {
  return <Page>There is nothing at this address. Choose a place at the left.</Page>;
}
