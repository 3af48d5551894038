import { styled } from '@mui/material/styles';
import { isNil, show } from './show';
import { whyProps, type WhyOf } from './why';

const Figure = styled('span')(({ theme }) => ({
  fontVariantNumeric: 'tabular-nums lining-nums',
  whiteSpace: 'nowrap',
  '&[data-tone="held"]': { color: theme.vars!.palette.tally.held },
  '&[data-tone="waiting"]': { color: theme.vars!.palette.tally.waiting },
  '&[data-tone="soft"]': { color: theme.vars!.palette.text.secondary },
  '&[data-final]': { borderBottom: `3px double ${theme.vars!.palette.text.primary}`, paddingBottom: 1 },
  '&[data-strong]': { fontWeight: 650 },
  '[data-list] &[data-why]': { position: 'relative', zIndex: 1 },
  '&[data-why]': { cursor: 'help', display: 'inline-block', minHeight: 24, minWidth: 24, lineHeight: '24px' },
  '&[data-why]:focus-visible': { outline: `2px solid ${theme.vars!.palette.primary.main}`, outlineOffset: 2 },
  '&[data-long]': { fontSize: '0.84em', letterSpacing: '-0.01em' },
}));

const Code = styled('small')(({ theme }) => ({ color: theme.vars!.palette.text.secondary, fontSize: '0.82em', marginRight: 5 }));

interface Props {
  value: string | undefined;
  tone?: 'held' | 'waiting' | 'soft';
  final?: boolean;
  strong?: boolean;
  quietNil?: boolean;
  /** What balance it is, so that y says why. */
  why?: WhyOf;
  /** Its currency, where that is not the firm's. */
  code?: string;
}

/** An amount as Go computed it. A final total has a double line under it. */
export function Amount({ value, tone, final, strong, quietNil, why, code }: Props) {
  return (
    <Figure
      {...(why && whyProps(why))}
      data-tone={quietNil && isNil(value) ? 'soft' : tone}
      data-final={final || undefined}
      data-strong={strong || undefined}
      data-long={(value?.length ?? 0) > 12 || undefined}
    >
      {code && <Code>{code}</Code>}
      {show(value)}
    </Figure>
  );
}
