import '@fontsource-variable/source-sans-3/wght.css';
import '@fontsource-variable/source-serif-4/wght.css';
import { createTheme } from '@mui/material/styles';

// What the colours mean, beside MUI's own palette. A meaning is always told by
// a word or a hatch as well.
interface Meanings {
  desk: string;
  paper: string;
  second: string;
  sheet: string;
  rule: string;
  strong: string;
  settled: string;
  kept: string;
  held: string;
  waiting: string;
  lost: string;
  tint: string;
}

declare module '@mui/material/styles' {
  interface Palette {
    tally: Meanings;
  }
  interface PaletteOptions {
    tally: Meanings;
  }
  interface CssVarsPalette {
    tally: Meanings;
  }
  interface TypographyVariants {
    figure: React.CSSProperties;
  }
  interface TypographyVariantsOptions {
    figure?: React.CSSProperties;
  }
}

declare module '@mui/material/Typography' {
  interface TypographyPropsVariantOverrides {
    figure: true;
  }
}

export const serif = '"Source Serif 4 Variable", Georgia, serif';
const sans = '"Source Sans 3 Variable", system-ui, sans-serif';

const light: Meanings = {
  desk: '#E7DFCE',
  paper: '#FBF8F1',
  second: '#F4EEE1',
  sheet: '#FFFEFB',
  rule: '#D8CFBB',
  strong: '#BFB296',
  settled: '#566B2F',
  kept: '#85600F',
  held: '#55548A',
  waiting: '#75653C',
  lost: '#6B6B6B',
  tint: '#F3E3D6',
};

const dark: Meanings = {
  desk: '#141517',
  paper: '#1E2023',
  second: '#26282C',
  sheet: '#232529',
  rule: '#3B3C3F',
  strong: '#5D5A53',
  settled: '#A9C176',
  kept: '#E0B45C',
  held: '#AFAEE6',
  waiting: '#CDB98A',
  lost: '#A8A8A8',
  tint: '#3A2A20',
};

/** The theme: a ledger page on a desk, by day and by night. */
export const theme = createTheme({
  cssVariables: { colorSchemeSelector: 'data-theme', nativeColor: false },
  colorSchemes: {
    light: {
      palette: {
        primary: { main: '#9A4A1C', dark: '#7D3A13', contrastText: '#FFFFFF' },
        error: { main: '#A3241F' },
        warning: { main: '#85600F' },
        success: { main: '#566B2F' },
        background: { default: light.desk, paper: light.paper },
        text: { primary: '#23262B', secondary: '#5F5A4D' },
        divider: light.rule,
        tally: light,
      },
    },
    dark: {
      palette: {
        primary: { main: '#E39A6B', dark: '#F0B48D', contrastText: '#1E2023' },
        error: { main: '#F19389' },
        warning: { main: '#E0B45C' },
        success: { main: '#A9C176' },
        background: { default: dark.desk, paper: dark.paper },
        text: { primary: '#E9E4D8', secondary: '#B0AA9B' },
        divider: dark.rule,
        tally: dark,
      },
    },
  },
  typography: {
    fontFamily: sans,
    fontSize: 14,
    htmlFontSize: 16,
    h1: { fontFamily: serif, fontSize: 26, fontWeight: 650, lineHeight: 1.2 },
    h2: { fontFamily: serif, fontSize: 16.5, fontWeight: 650, lineHeight: 1.3 },
    h3: { fontFamily: serif, fontSize: 15, fontWeight: 650, lineHeight: 1.3 },
    body1: { fontSize: 14.5 },
    body2: { fontSize: 13.5 },
    button: { textTransform: 'none', fontWeight: 650, fontSize: 14 },
    figure: { fontFamily: serif, fontSize: 18, fontWeight: 650, fontVariantNumeric: 'tabular-nums lining-nums' },
  },
  shape: { borderRadius: 3 },
  transitions: {
    duration: { shortest: 80, shorter: 100, short: 120, standard: 140, complex: 140, enteringScreen: 120, leavingScreen: 100 },
  },
  components: {
    MuiCssBaseline: {
      styleOverrides: (t) => ({
        body: { fontVariantNumeric: 'tabular-nums lining-nums' },
        'html[data-rows="comfortable"]': { '--row': '40px' },
        a: { color: t.vars!.palette.primary.main, textUnderlineOffset: 2 },
        '::selection': { backgroundColor: t.vars!.palette.tally.tint },
        '@media (prefers-reduced-motion: reduce)': { '*': { animation: 'none !important', transition: 'none !important' } },
      }),
    },
    MuiButtonBase: { defaultProps: { disableRipple: true } },
    MuiButton: {
      defaultProps: { disableElevation: true, size: 'small' },
      styleOverrides: { root: { paddingInline: 12, minHeight: 30, lineHeight: 1.3, whiteSpace: 'nowrap' } },
    },
    MuiTextField: { defaultProps: { size: 'small', variant: 'outlined' } },
    MuiFormLabel: { styleOverrides: { asterisk: { display: 'none' } } },
    MuiInputBase: { styleOverrides: { root: { fontSize: 14.5 } } },
    // What is written on the sheet itself stands on a dashed line.
    MuiInput: {
      styleOverrides: {
        root: ({ theme: t }) => ({ '&::before': { borderBottom: `1px dashed ${t.vars!.palette.tally.strong}` } }),
      },
    },
    MuiSelect: { defaultProps: { size: 'small' } },
    MuiTable: { defaultProps: { size: 'small' } },
    MuiTableCell: {
      styleOverrides: {
        root: ({ theme: t }) => ({
          borderColor: t.vars!.palette.tally.rule,
          padding: '5px 6px',
          height: 'var(--row, 31px)',
          fontSize: 14,
        }),
        head: ({ theme: t }) => ({
          fontWeight: 600,
          fontSize: 12.5,
          color: t.vars!.palette.text.secondary,
          borderColor: t.vars!.palette.tally.strong,
          whiteSpace: 'nowrap',
        }),
        footer: ({ theme: t }) => ({ fontWeight: 650, fontSize: 14, color: t.vars!.palette.text.primary, borderBottom: 0 }),
      },
    },
    MuiTooltip: { defaultProps: { enterDelay: 400 } },
    MuiLink: { defaultProps: { underline: 'hover' } },
    MuiDialogTitle: { styleOverrides: { root: { fontFamily: serif, fontWeight: 650, fontSize: 20 } } },
    MuiDialog: {
      styleOverrides: {
        paper: ({ theme: t }) => ({ backgroundImage: 'none', border: `1px solid ${t.vars!.palette.tally.strong}` }),
      },
    },
    MuiPaper: { styleOverrides: { root: { backgroundImage: 'none' } } },
    MuiAutocomplete: {
      styleOverrides: {
        paper: ({ theme: t }) => ({ border: `1px solid ${t.vars!.palette.tally.strong}` }),
        option: { fontSize: 14 },
      },
    },
  },
});
