import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import type { ComponentType } from 'react';
import { Link, useParams } from 'react-router';
import { Page, PageHead } from '../parts/Layout';
import { ListNote } from '../parts/ListNote';
import { Margin } from '../parts/Margin';
import { Beginning } from './Beginning';
import { FirmSetup } from './FirmSetup';
import { GroupSetup } from './GroupSetup';
import { LetterheadSetup } from './LetterheadSetup';
import { ImportSetup } from './ImportSetup';
import { LimitSetup } from './LimitSetup';
import { CurrencySetup } from './CurrencySetup';
import { CardSetup } from './CardSetup';
import { MailSetup } from './MailSetup';
import { ReminderSetup } from './ReminderSetup';
import { NumberSetup } from './NumberSetup';
import { AccountSetup } from './AccountSetup';
import { ArticleSetup } from './ArticleSetup';
import { BankRules } from './BankRules';
import { BankSetup } from './BankSetup';
import { Safety } from './Safety';
import { TaxCodeSetup } from './TaxCodeSetup';
import { TermsSetup } from './TermsSetup';
import { MySignIn } from './MySignIn';
import { PeopleSetup } from './PeopleSetup';
import { useMay } from '../parts/may';

interface Section {
  id: string;
  name: string;
  view: ComponentType;
  /** What the margin says of it, where the section itself says nothing there. */
  about?: string;
}

const sections: Section[] = [
  {
    id: 'firm',
    name: 'Firm',
    view: FirmSetup,
  },
  {
    id: 'articles',
    name: 'Articles',
    view: ArticleSetup,
    about:
      'What is sold again and again, with its text, price and tax code: typing a part of its name on an invoice fills the line.',
  },
  {
    id: 'groups',
    name: 'Prices by group',
    view: GroupSetup,
    about: 'Groups of customers who have prices of their own. What an article costs a group stands at the article.',
  },
  {
    id: 'letterheads',
    name: 'Letterheads',
    view: LetterheadSetup,
    about:
      'How papers look that go out. One that was chosen for a paper comes before that of its customer, and that before the one of its kind.',
  },
  {
    id: 'mail',
    name: 'Mail',
    view: MailSetup,
    about:
      'From where mail goes, and with which words. The password lies beside the books, never in a backup, and is not shown again.',
  },
  {
    id: 'cards',
    name: 'Cards',
    view: CardSetup,
    about:
      'On the page of a link a customer can pay what is left. It becomes a receipt in card takings, once, and waits there until it is paid out.',
  },
  {
    id: 'reminders',
    name: 'Reminders',
    view: ReminderSetup,
    about:
      'Stages by which customers are reminded, one after the other, each after as many days as lie between them. Nothing goes by itself.',
  },
  {
    id: 'taxcodes',
    name: 'Tax codes',
    view: TaxCodeSetup,
    about:
      'A tax code says the percentage, and whether the customer accounts for the tax. What was posted keeps the rate that it was posted with.',
  },
  {
    id: 'terms',
    name: 'Terms',
    view: TermsSetup,
    about:
      'Terms give an invoice its due day, or its instalments, and say what is taken off for early payment. A customer has terms of their own; an invoice may differ.',
  },
  {
    id: 'accounts',
    name: 'Accounts',
    view: AccountSetup,
  },
  {
    id: 'banks',
    name: 'Bank accounts',
    view: BankSetup,
    about:
      'Where money arrives and leaves: bank accounts, cash in hand, card takings on the way. Each has its own ledger account.',
  },
  {
    id: 'bank-rules',
    name: 'Bank rules',
    view: BankRules,
    about:
      'What lines of the bank become that say the same again and again. A rule fills a paper in; a person takes it. Of each is kept what it did.',
  },
  {
    id: 'currencies',
    name: 'Currencies',
    view: CurrencySetup,
    about:
      'What papers, bank accounts and prices may be in beside the firm’s own. A paper takes the newest rate that is not after its day; what was posted keeps its own.',
  },
  {
    id: 'limits',
    name: 'Limits',
    view: LimitSetup,
    about:
      'Up to which difference a receipt closes on the spot, past which amount a write-off wants a second person’s word, and what the allowance takes of each age.',
  },
  {
    id: 'numbers',
    name: 'Numbers',
    view: NumberSetup,
    about:
      'Each kind of paper counts in a row of its own. A number that is typed on a paper is kept as typed, and refused when it is taken.',
  },
  {
    id: 'safety',
    name: 'Safety',
    view: Safety,
    about: 'Backups by themselves and by hand, and all of the books to take along. A backup that fails stands on the Desk.',
  },
  {
    id: 'beginning',
    name: 'Beginning',
    view: Beginning,
  },
  {
    id: 'people',
    name: 'People',
    view: PeopleSetup,
    about:
      'Who may sign in, and what each may do. What one may not do is not offered, and is refused with who may. Ending somebody’s access ends their sessions.',
  },
  {
    id: 'me',
    name: 'My sign-in',
    view: MySignIn,
    about:
      'Your password, the code that is asked for beside it, and where you are signed in. A new password ends every other session of yours.',
  },
  {
    id: 'import',
    name: 'Import',
    view: ImportSetup,
    about: 'Customers, jobs and articles from a CSV file. What will happen is shown line by line before anything is written.',
  },
];

/** What stands behind the firm's name. */
export default function SetupPlace() {
  const { section } = useParams();
  const may = useMay();
  const mine = sections.filter((s) => may.go(`/setup/${s.id}`));
  const here = mine.find((s) => s.id === section) ?? mine[0]!;
  const View = here.view;
  return (
    <Page>
      <PageHead title="Setup" />
      <Tabs
        value={here.id}
        variant="scrollable"
        aria-label="Setup"
        sx={{ minHeight: 34, '& .MuiTab-root': { minHeight: 34, padding: '4px 12px', minWidth: 0 } }}
      >
        {mine.map((s) => (
          <Tab key={s.id} value={s.id} label={s.name} component={Link} to={`/setup/${s.id}`} />
        ))}
      </Tabs>
      <View key={here.id} />
      {here.about && (
        <Margin>
          <ListNote title={here.name}>{here.about}</ListNote>
        </Margin>
      )}
    </Page>
  );
}
