/** Property accounts put together for reading: what is the same for several is told once. */
import type { PropertyAccount } from '$core/accounts/property.ts';
import type { Source } from '$core/css/cascade/styles.ts';

export interface Alike {
  names: string[];
  account: PropertyAccount;
}

export function alike(accounts: PropertyAccount[]): Alike[] {
  const out = new Map<string, Alike>();
  for (const account of accounts) {
    const { property, declared, beaten, computed, sentence, winner } = account;
    const key = JSON.stringify([declared.value, declared.note, computed, winner, beaten, sentence]);
    const cached = out.get(key);
    if (cached) cached.names.push(property);
    else out.set(key, { names: [property], account });
  }
  return [...out.values()];
}

/** The longhands that one declaration gives. */
export interface Declaration {
  key: string;
  source: Source;
  important: boolean;
  accounts: PropertyAccount[];
}

export function byDeclaration(accounts: PropertyAccount[]): Declaration[] {
  const out = new Map<string, Declaration>();
  for (const account of accounts) {
    const source = account.winner?.source ?? account.declared.source;
    const key = `${source.sheet}:${source.line}:${source.column}:${source.property}`;
    const cached = out.get(key);
    if (cached) cached.accounts.push(account);
    else out.set(key, { key, source, important: account.winner?.important ?? false, accounts: [account] });
  }
  return [...out.values()];
}
