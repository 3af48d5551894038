import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { useNavigate, useParams } from 'react-router';
import { Page, PageHead } from '../parts/Layout';
import { FirmSetup } from './FirmSetup';
import { ImportSetup } from './ImportSetup';
import { LimitSetup } from './LimitSetup';
import { NumberSetup } from './NumberSetup';
import { AccountSetup, BankSetup, ItemSetup, TaxCodeSetup, TermsSetup } from './RecordSetup';

const sections = [
  { id: 'firm', name: 'Firm', view: FirmSetup },
  { id: 'items', name: 'Items', view: ItemSetup },
  { id: 'taxcodes', name: 'Tax codes', view: TaxCodeSetup },
  { id: 'terms', name: 'Terms', view: TermsSetup },
  { id: 'accounts', name: 'Accounts', view: AccountSetup },
  { id: 'banks', name: 'Bank accounts', view: BankSetup },
  { id: 'limits', name: 'Limits', view: LimitSetup },
  { id: 'numbers', name: 'Numbers', view: NumberSetup },
  { id: 'import', name: 'Import', view: ImportSetup },
];

/** What stands behind the firm's name. */
export default function SetupPlace() {
  const { section } = useParams();
  const go = useNavigate();
  const here = sections.find((s) => s.id === section) ?? sections[0]!;
  const View = here.view;
  return (
    <Page>
      <PageHead title="Setup" />
      <Tabs
        value={here.id}
        onChange={(_, v) => go(`/setup/${v}`)}
        variant="scrollable"
        aria-label="Setup"
        sx={{ minHeight: 34, '& .MuiTab-root': { minHeight: 34, padding: '4px 12px', minWidth: 0 } }}
      >
        {sections.map((s) => (
          <Tab key={s.id} value={s.id} label={s.name} />
        ))}
      </Tabs>
      <View key={here.id} />
    </Page>
  );
}
