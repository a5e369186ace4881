import { answered, client } from '../data/api';

/** Whether this browser can make and show passkeys, and read their JSON form. */
export const canPasskey = () =>
  typeof PublicKeyCredential !== 'undefined' && typeof PublicKeyCredential.parseRequestOptionsFromJSON === 'function';

// What the person breaks off is no fault of the desk's.
async function shown(asked: Promise<Credential | null>): Promise<unknown> {
  try {
    const credential = await asked;
    return (credential as PublicKeyCredential).toJSON();
  } catch {
    throw new Error('No passkey was used. Try again, or go on with your password.');
  }
}

/** Signs in with whichever passkey the person chooses. */
export async function signInByPasskey(): Promise<void> {
  const options = (await answered(client.POST('/api/session/passkey/options', {}))) as unknown as PublicKeyCredentialRequestOptionsJSON;
  const credential = await shown(navigator.credentials.get({ publicKey: PublicKeyCredential.parseRequestOptionsFromJSON(options) }));
  await answered(client.POST('/api/session/passkey', { body: { credential: credential as never } }));
}

/** Makes a passkey on this device and keeps it with the account. */
export async function makePasskey(name: string, password: string): Promise<void> {
  const options = (await answered(
    client.POST('/api/account/passkeys/options', { body: { password } }),
  )) as unknown as PublicKeyCredentialCreationOptionsJSON;
  const credential = await shown(navigator.credentials.create({ publicKey: PublicKeyCredential.parseCreationOptionsFromJSON(options) }));
  await answered(client.POST('/api/account/passkeys', { body: { name, credential: credential as never } }));
}
