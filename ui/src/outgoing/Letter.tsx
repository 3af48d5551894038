import { styled } from '@mui/material/styles';

const Facts = styled('dl')({
  display: 'grid',
  gridTemplateColumns: 'auto 1fr',
  gap: '2px 10px',
  margin: 0,
  '& dd': { margin: 0, overflowWrap: 'anywhere' },
});
const Words = styled('div')(({ theme }) => ({
  whiteSpace: 'pre-wrap',
  overflowWrap: 'anywhere',
  borderTop: `1px solid ${theme.vars!.palette.tally.rule}`,
  marginTop: 8,
  paddingTop: 8,
}));

interface Props {
  from?: string;
  to: string;
  copies: string;
  subject: string;
  text: string;
  files: { name: string; size: string; href?: string }[];
}

/** A mail as it is read. */
export function Letter({ from, to, copies, subject, text, files }: Props) {
  return (
    <>
      <Facts>
        {from && (
          <>
            <dt>From</dt>
            <dd>{from}</dd>
          </>
        )}
        <dt>To</dt>
        <dd>{to}</dd>
        {copies && (
          <>
            <dt>Copies</dt>
            <dd>{copies}</dd>
          </>
        )}
        <dt>Subject</dt>
        <dd>{subject}</dd>
        {files.length > 0 && (
          <>
            <dt>With it</dt>
            <dd>
              {files.map((f) => (
                <div key={f.name}>
                  {f.href ? (
                    <a href={f.href} target="_blank" rel="noreferrer">
                      {f.name}
                    </a>
                  ) : (
                    f.name
                  )}
                  , {f.size}
                </div>
              ))}
            </dd>
          </>
        )}
      </Facts>
      <Words>{text}</Words>
    </>
  );
}
