import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import { styled } from '@mui/material/styles';
import type { JobBody } from '../api/client';
import { useEditing } from '../papers/editing/Editing';
import { Figure, Text } from '../papers/editing/fields';

const Stages = styled('div')({ display: 'flex', flexDirection: 'column', gap: 10 });
const Stage = styled('div')({ display: 'grid', gridTemplateColumns: '1fr 76px 110px 130px 30px', gap: 10, alignItems: 'center' });

/** The billing plan: each stage a share of the contract or an amount, and when. */
export function PlanFields() {
  const { body, change } = useEditing<JobBody>();
  const stages = body.stages ?? [];
  return (
    <Stages className="wide" data-field="stages">
      {stages.map((_, n) => (
        <Stage key={n}>
          <Text label={`Stage ${n + 1}`} name={`stages[${n}].name`} placeholder="at delivery" />
          <Figure kind="percent" label="%" name={`stages[${n}].percent`} />
          <Figure kind="amount" label="or amount" name={`stages[${n}].amount`} />
          <Figure kind="day" label="When" name={`stages[${n}].day`} />
          <IconButton
            size="small"
            aria-label={`Take stage ${n + 1} out`}
            onClick={() => change((now) => ({ stages: (now.stages ?? []).filter((_, i) => i !== n) }))}
          >
            ×
          </IconButton>
        </Stage>
      ))}
      <div>
        <Button
          onClick={() => change((now) => ({ stages: [...(now.stages ?? []), { name: '', percent: '', amount: '', day: '' }] }))}
        >
          {stages.length === 0 ? 'Billing plan' : 'Another stage'}
        </Button>
      </div>
    </Stages>
  );
}
