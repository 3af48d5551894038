import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { styled } from '@mui/material/styles';
import type { JobBody } from '../api/client';
import { useEditing } from '../papers/editing/Editing';
import { Check, Choice, Figure, Text } from '../papers/editing/fields';
import { isNil } from '../parts/show';

const Shares = styled('div')({ display: 'flex', flexDirection: 'column', gap: 10 });
const Share = styled('div')({ display: 'grid', gridTemplateColumns: '1fr 90px 130px 30px', gap: 10, alignItems: 'center' });

/** What the customer keeps back of each invoice: how much, of what, at most, and until when. */
export function RetentionFields() {
  const { body, change } = useEditing<JobBody>();
  const keeps = !isNil(body.retention);
  const shares = body.releases ?? [];
  return (
    <>
      <Figure kind="percent" label="They keep back, %" name="retention" placeholder="nothing" />
      {keeps && (
        <>
          <Choice
            label="Of each invoice’s"
            field="retentionGross"
            value={body.retentionGross ? 'gross' : 'net'}
            onChange={(v) => change({ retentionGross: v === 'gross' })}
            options={[
              { value: 'net', name: 'sum before tax' },
              { value: 'gross', name: 'sum with tax' },
            ]}
          />
          <Figure kind="percent" label="At most, % of the contract" name="retentionCapPercent" placeholder="no limit" />
          <Figure kind="amount" label="Or at most, an amount" name="retentionCap" placeholder="no limit" />
          <Check className="wide" name="retentionTaxLater" label="Its tax is due when it is released" />
          <Shares className="wide" data-field="releases">
            {shares.map((_, n) => (
              <Share key={n}>
                <Text label={`Released, part ${n + 1}`} name={`releases[${n}].name`} placeholder="at completion" />
                <Figure kind="percent" label="%" name={`releases[${n}].percent`} />
                <Figure kind="day" label="Expected" name={`releases[${n}].day`} />
                <IconButton
                  size="small"
                  aria-label={`Take part ${n + 1} out`}
                  onClick={() => change((now) => ({ releases: (now.releases ?? []).filter((_, i) => i !== n) }))}
                >
                  ×
                </IconButton>
              </Share>
            ))}
            <div>
              <Button
                onClick={() => change((now) => ({ releases: [...(now.releases ?? []), { name: '', percent: '', day: '' }] }))}
              >
                {shares.length === 0 ? 'When it is expected back' : 'Another part'}
              </Button>
            </div>
          </Shares>
        </>
      )}
    </>
  );
}
