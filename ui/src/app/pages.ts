import { lazy } from 'react';

/** The pages, each loaded when it is looked at, or before, when there is time. */
const pages = {
  SetUp: () => import('./SetUp'),
  Invited: () => import('./Invited'),
  WordPage: () => import('../desk/WordPage'),
  Desk: () => import('../desk/Desk'),
  CustomerList: () => import('../customers/CustomerList'),
  CustomerPage: () => import('../customers/CustomerPage'),
  StatementPage: () => import('../customers/StatementPage'),
  AllStatements: () => import('../customers/AllStatements'),
  Reminders: () => import('../customers/Reminders'),
  LateCharges: () => import('../customers/LateCharges'),
  SupplierList: () => import('../suppliers/SupplierList'),
  SupplierPage: () => import('../suppliers/SupplierPage'),
  BankFile: () => import('../suppliers/BankFile'),
  CostList: () => import('../jobs/CostList'),
  MarginList: () => import('../jobs/MarginList'),
  StockPage: () => import('../ledger/StockPage'),
  RecurringInvoices: () => import('../papers/RecurringInvoices'),
  ChequePage: () => import('../papers/ChequePage'),
  JobList: () => import('../jobs/JobList'),
  JobPage: () => import('../jobs/JobPage'),
  PaperList: () => import('../papers/PaperList'),
  CreditsPage: () => import('../papers/CreditsPage'),
  PaperPage: () => import('../papers/PaperPage'),
  ReadBill: () => import('../suppliers/ReadBill'),
  MailPage: () => import('../outgoing/MailPage'),
  Outbox: () => import('../outgoing/Outbox'),
  PrintPapers: () => import('../papers/PrintPapers'),
  DraftPage: () => import('../papers/editing/DraftPage'),
  BankPlace: () => import('../bank/BankPlace'),
  BankLines: () => import('../bank/BankLines'),
  SeveralLines: () => import('../bank/Several'),
  CountPage: () => import('../bank/CountPage'),
  ReconcilePage: () => import('../bank/ReconcilePage'),
  LedgerPlace: () => import('../ledger/LedgerPlace'),
  AccountPage: () => import('../ledger/AccountPage'),
  SetupPlace: () => import('../setup/SetupPlace'),
};

export const loadDesk = pages.Desk;
export const loadPaper = pages.PaperPage;

/** Loads every page, one after another: the next is there before one comes to it. */
export async function loadPages() {
  for (const load of Object.values(pages)) {
    await new Promise((resolve) => ('requestIdleCallback' in window ? requestIdleCallback(resolve) : setTimeout(resolve, 50)));
    try {
      await load();
    } catch {
      return; // the page itself will say so
    }
  }
}

export const SetUp = lazy(pages.SetUp);
export const Invited = lazy(pages.Invited);
export const WordPage = lazy(pages.WordPage);
export const Desk = lazy(pages.Desk);
export const CustomerList = lazy(pages.CustomerList);
export const CustomerPage = lazy(pages.CustomerPage);
export const RecurringInvoices = lazy(pages.RecurringInvoices);
export const LateCharges = lazy(pages.LateCharges);
export const SupplierList = lazy(pages.SupplierList);
export const SupplierPage = lazy(pages.SupplierPage);
export const BankFile = lazy(pages.BankFile);
export const CreditsPage = lazy(pages.CreditsPage);
export const CostList = lazy(pages.CostList);
export const MarginList = lazy(pages.MarginList);
export const StockPage = lazy(pages.StockPage);
export const StatementPage = lazy(pages.StatementPage);
export const AllStatements = lazy(pages.AllStatements);
export const ChequePage = lazy(pages.ChequePage);
export const JobList = lazy(pages.JobList);
export const JobPage = lazy(pages.JobPage);
export const PaperList = lazy(pages.PaperList);
export const PaperPage = lazy(pages.PaperPage);
export const ReadBill = lazy(pages.ReadBill);
export const Reminders = lazy(pages.Reminders);
export const MailPage = lazy(pages.MailPage);
export const Outbox = lazy(pages.Outbox);
export const PrintPapers = lazy(pages.PrintPapers);
export const DraftPage = lazy(pages.DraftPage);
export const BankPlace = lazy(pages.BankPlace);
export const BankLines = lazy(pages.BankLines);
export const ReconcilePage = lazy(pages.ReconcilePage);
export const SeveralLines = lazy(pages.SeveralLines);
export const CountPage = lazy(pages.CountPage);
export const LedgerPlace = lazy(pages.LedgerPlace);
export const AccountPage = lazy(pages.AccountPage);
export const SetupPlace = lazy(pages.SetupPlace);
