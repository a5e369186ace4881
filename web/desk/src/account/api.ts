import { queryOptions } from '@tanstack/react-query';
import { answered, client, type Schema } from '../data/api';

export type Account = Schema<'AccountView'>;

export const accountQuery = queryOptions({ queryKey: ['account'], queryFn: () => answered(client.GET('/api/account')) });

export const sessionsQuery = queryOptions({
  queryKey: ['account', 'sessions'],
  queryFn: () => answered(client.GET('/api/account/sessions')),
});

export const rename = (name: string) => answered(client.PUT('/api/account/name', { body: { name } }));

export const changePassword = (current: string, password: string) =>
  answered(client.PUT('/api/account/password', { body: { current, password } }));

export const makeFactorKey = (password: string) => answered(client.POST('/api/account/factor/key', { body: { password } }));

export const turnFactorOn = (code: string) => answered(client.POST('/api/account/factor', { body: { code } }));

export const turnFactorOff = (password: string) => answered(client.POST('/api/account/factor/off', { body: { password } }));

export const makeRecoveryCodes = (password: string) => answered(client.POST('/api/account/factor/codes', { body: { password } }));

export const removePasskey = (passkeyId: string) =>
  answered(client.DELETE('/api/account/passkeys/{passkeyId}', { params: { path: { passkeyId } } }));

export const endSession = (sessionId: string) =>
  answered(client.DELETE('/api/account/sessions/{sessionId}', { params: { path: { sessionId } } }));
