/** The only way out for the engine that opens a live page: a proxy that checks each connection by the address it goes to. */
import { randomBytes } from 'node:crypto';
import { lookup as dnsLookup } from 'node:dns';
import { isIP } from 'node:net';
import { RequestError, Server } from 'proxy-chain';
import { reachOf } from '../engines/addresses.ts';

export interface Gate {
  proxy: { server: string; bypass: string; username: string; password: string };
  /** Hosts that were asked for and are not let through, each with what it is. */
  refused: ReadonlyMap<string, string>;
  close: () => Promise<void>;
}

const hostOf = (hostname: string, port: number | string): string => `${hostname.toLowerCase()}:${port}`;

/** Name and port of the host that an address is at. */
export const hostOfAddress = ({ hostname, port, protocol }: URL): string =>
  hostOf(hostname.replace(/^\[|\]$/g, ''), port || (/^(https|wss):$/.test(protocol) ? '443' : '80'));

/** `named`: addresses that the user has named; those hosts may lie anywhere but at link-local and special addresses. */
export async function openGate(named: readonly URL[]): Promise<Gate> {
  const open = new Set(named.map(hostOfAddress));
  const refused = new Map<string, string>();
  const [username, password] = [randomBytes(8).toString('hex'), randomBytes(16).toString('hex')];
  /** Why a host may not be connected to; null: it may. */
  const why = (host: string, address: string): string | null => {
    const reach = reachOf(address);
    if (reach && (reach === 'public' || open.has(host))) return null;
    const reason = reach ? `a ${reach} address that was not named` : 'a link-local or special address';
    refused.set(host, reason);
    return reason;
  };
  const server = new Server({
    port: 0,
    host: '127.0.0.1',
    prepareRequestFunction: ({ hostname, port, username: name, password: word }) => {
      if (name !== username || word !== password) return { requestAuthentication: true };
      const bare = hostname.replace(/^\[|\]$/g, '');
      const host = hostOf(bare, port);
      const reason = isIP(bare) ? why(host, bare) : null;
      if (reason !== null) throw new RequestError(`${host} is at ${reason}.`, 403);
      return {
        dnsLookup: ((
          asked: string,
          options: object,
          done: (error: Error | null, ...found: unknown[]) => void,
        ) => {
          // Names under localhost are of this machine (RFC 6761 §6.3), whatever a resolver knows of them.
          const queried = /\.localhost$/i.test(asked) ? 'localhost' : asked;
          dnsLookup(queried, { ...options, all: true }, (error, found) => {
            if (error) return done(error);
            const allowed = found.filter(({ address }) => why(host, address) === null);
            if (allowed.length === 0) return done(new Error(`${host} may not be connected to.`));
            if ('all' in options && options.all) done(null, allowed);
            else done(null, allowed[0]!.address, allowed[0]!.family);
          });
        }) as typeof dnsLookup,
      };
    },
  });
  await server.listen();
  return {
    proxy: { server: `http://127.0.0.1:${server.port}`, bypass: '<-loopback>', username, password },
    refused,
    close: () => server.close(true),
  };
}
