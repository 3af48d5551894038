import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { Link, useParams } from 'react-router';
import { Leads } from '../parts/may';
import { Page, PageHead } from '../parts/Layout';
import { AccrualReport } from './AccrualReport';
import { AgeingReport } from './AgeingReport';
import { AllowanceReport } from './AllowanceReport';
import { AuditRecord } from './AuditRecord';
import { Closing } from './Closing';
import { BalanceReport } from './BalanceReport';
import { DepositRegister } from './DepositRegister';
import { IncomeReport } from './IncomeReport';
import { JournalView } from './JournalView';
import { Outlook } from './Outlook';
import { RevaluationReport } from './RevaluationReport';
import { Registers } from './Registers';
import { TaxReport } from './TaxReport';
import { TieOutReport } from './TieOutReport';
import { TrialBalance } from './TrialBalance';

const views = [
  { id: 'accounts', name: 'Accounts', title: 'Accounts and trial balance', view: TrialBalance },
  { id: 'registers', name: 'Registers', title: 'Registers', view: Registers },
  { id: 'deposits', name: 'Deposits', title: 'Register of deposits', view: DepositRegister },
  { id: 'journal', name: 'Journal', title: 'Journal', view: JournalView },
  { id: 'ageing', name: 'Ageing', title: 'Ageing', view: AgeingReport },
  { id: 'expected', name: 'Expected', title: 'Money expected', view: Outlook },
  { id: 'allowance', name: 'Allowance', title: 'Allowance for doubtful debts', view: AllowanceReport },
  { id: 'accruals', name: 'Work done', title: 'Work done and not billed', view: AccrualReport },
  { id: 'exchange', name: 'Exchange', title: 'Open in other currencies', view: RevaluationReport },
  { id: 'income', name: 'Profit and loss', title: 'Profit and loss', view: IncomeReport },
  { id: 'balance', name: 'Balance sheet', title: 'Balance sheet', view: BalanceReport },
  { id: 'tax', name: 'Tax return', title: 'Tax return', view: TaxReport },
  { id: 'tie-out', name: 'Tie-out', title: 'Tie-out', view: TieOutReport },
  { id: 'closing', name: 'Closing', title: 'Close the month', view: Closing },
  { id: 'record', name: 'Audit record', title: 'Audit record', view: AuditRecord },
];

/** Accounts and their registers, journal, ageing, tie-out, period lock. */
export default function LedgerPlace() {
  const { view } = useParams();
  const here = views.find((v) => v.id === view) ?? views[0]!;
  const View = here.view;
  return (
    <Page>
      <PageHead title={here.title}>
        {here.id === 'journal' && (
          <Leads variant="outlined" to={'/papers/new/journal'}>
            New entry
          </Leads>
        )}
      </PageHead>
      <Tabs
        value={here.id}
        className="no-print"
        variant="scrollable"
        aria-label="Ledger"
        sx={{ minHeight: 34, '& .MuiTab-root': { minHeight: 34, padding: '4px 12px', minWidth: 0 } }}
      >
        {views.map((v) => (
          <Tab key={v.id} value={v.id} label={v.name} component={Link} to={`/ledger/${v.id}`} />
        ))}
      </Tabs>
      <View />
    </Page>
  );
}
