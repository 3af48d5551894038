import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { Link, useParams } from 'react-router';
import { Leads } from '../parts/may';
import { useBack } from '../parts/keys';
import { Page, PageHead } from '../parts/Layout';
import { useLeave } from '../parts/leave';
import { BackList } from './BackList';
import { CreditedReport } from './CreditedReport';
import { CreditList } from './CreditList';

const views = [
  { id: 'notes', name: 'Credit notes', view: CreditList },
  { id: 'returned', name: 'What came back', view: BackList },
  { id: 'why', name: 'Why, and of what', view: CreditedReport },
];

/** What was taken back: the credit notes, the goods that came with them, and why. */
export default function CreditsPage() {
  const { view } = useParams();
  const here = views.find((v) => v.id === view) ?? views[0]!;
  const View = here.view;
  useBack(useLeave('/papers'));
  return (
    <Page>
      <PageHead title="Credits and returns">
        <Leads variant="outlined" to={'/papers/new/credit_note'}>
          Credit note
        </Leads>
        <Leads variant="outlined" to={'/papers/new/return'}>
          Return
        </Leads>
      </PageHead>
      <Tabs
        value={here.id}
        className="no-print"
        aria-label="Credits and returns"
        sx={{ minHeight: 34, '& .MuiTab-root': { minHeight: 34, padding: '4px 12px', minWidth: 0 } }}
      >
        {views.map((v) => (
          <Tab key={v.id} value={v.id} label={v.name} component={Link} to={`/papers/credits/${v.id}`} />
        ))}
      </Tabs>
      <View />
    </Page>
  );
}
