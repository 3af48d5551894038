import { api, data } from '../api/client';

/** From where mail goes, and what the words of mails may name. */
export const mailAccountQuery = { queryKey: ['mail-account'], queryFn: () => data(api.GET('/api/v1/mail-account')) };
