import { lazy, Suspense } from 'react';
import { Navigate, Route, Routes } from 'react-router';
import { Failure, Page } from '../parts/Layout';
import { useSession } from '../parts/records';
import { Shell } from './Shell';
import { SignIn } from './SignIn';

const SetUp = lazy(() => import('./SetUp'));
const Desk = lazy(() => import('../desk/Desk'));
const CustomerList = lazy(() => import('../customers/CustomerList'));
const CustomerPage = lazy(() => import('../customers/CustomerPage'));
const StatementPage = lazy(() => import('../customers/StatementPage'));
const AllStatements = lazy(() => import('../customers/AllStatements'));
const ChequePage = lazy(() => import('../papers/ChequePage'));
const JobList = lazy(() => import('../jobs/JobList'));
const JobPage = lazy(() => import('../jobs/JobPage'));
const PaperList = lazy(() => import('../papers/PaperList'));
const PaperPage = lazy(() => import('../papers/PaperPage'));
const DraftPage = lazy(() => import('../papers/DraftPage'));
const LedgerPlace = lazy(() => import('../ledger/LedgerPlace'));
const AccountPage = lazy(() => import('../ledger/AccountPage'));
const SetupPlace = lazy(() => import('../setup/SetupPlace'));

/** The whole interface: signing in, setting up, or the six places. */
export function App() {
  const session = useSession();
  if (session.isError)
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
  if (!session.data.signedIn) return <SignIn />;
  return (
    <Routes>
      <Route element={<Shell />}>
        <Route index element={<Navigate to="/desk" replace />} />
        <Route path="desk" element={<Desk />} />
        <Route path="customers" element={<CustomerList />} />
        <Route path="customers/statements" element={<AllStatements />} />
        <Route path="customers/:id" element={<CustomerPage />} />
        <Route path="customers/:id/statement" element={<StatementPage />} />
        <Route path="jobs" element={<JobList />} />
        <Route path="jobs/:id" element={<JobPage />} />
        <Route path="papers" element={<PaperList />} />
        <Route path="papers/cheques" element={<ChequePage />} />
        <Route path="papers/:id" element={<PaperPage />} />
        <Route path="papers/new/:kind" element={<DraftPage />} />
        <Route path="papers/drafts/:id" element={<DraftPage />} />
        <Route path="ledger" element={<Navigate to="/ledger/accounts" replace />} />
        <Route path="ledger/accounts/:id" element={<AccountPage />} />
        <Route path="ledger/:view" element={<LedgerPlace />} />
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
