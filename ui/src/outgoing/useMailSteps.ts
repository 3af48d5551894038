import { useQueryClient } from '@tanstack/react-query';
import { api } from '../api/client';
import { useSnackbar } from '../app/messages';

/** Sends a mail on, or stops it. */
export function useMailSteps() {
  const client = useQueryClient();
  const say = useSnackbar();
  const send = async (id: number) => {
    await api.POST('/api/v1/mails/{id}/send', { params: { path: { id } } });
    say('It is tried at once.');
    await client.invalidateQueries();
  };
  const stop = async (id: number) => {
    await api.POST('/api/v1/mails/{id}/stop', { params: { path: { id } } });
    say('It does not go.');
    await client.invalidateQueries();
  };
  return { send, stop };
}
