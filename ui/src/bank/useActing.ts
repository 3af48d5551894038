import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Notice } from '../api/client';
import { useSnackbar } from '../app/messages';
import { toNotices } from '../parts/Notices';

/** Does something at once, outside of an editor: says that it is done, or why it is refused, and reads again what stands there. */
export function useActing() {
  const client = useQueryClient();
  const say = useSnackbar();
  const [refusals, setRefusals] = useState<Notice[]>([]);
  const act = async (what: () => Promise<unknown>, done: string): Promise<boolean> => {
    let well = true;
    try {
      await what();
      setRefusals([]);
      say(done);
    } catch (e) {
      well = false;
      setRefusals(toNotices(e));
    }
    await client.invalidateQueries();
    return well;
  };
  return { refusals, act };
}
