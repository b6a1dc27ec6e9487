/** Which addresses of the network may be connected to, by what they are, whatever name or form they were written in. */
import ipaddr from 'ipaddr.js';

/** From the least to the most private: what a public page may not make us ask for, a page of this machine may. */
export const REACHES = ['public', 'private', 'loopback'] as const;
export type Reach = (typeof REACHES)[number];

/** Services that tell a machine's secrets to whoever asks from it. */
const METADATA = new Set(['100.100.100.200', 'fd00:ec2::254']);

const KINDS: Record<string, Reach> = {
  unicast: 'public',
  loopback: 'loopback',
  private: 'private',
  uniqueLocal: 'private',
  carrierGradeNat: 'private',
};

/** The IPv4 address that an IPv6 address stands for (RFC 4291 §2.5.5, RFC 6052 §2.2, RFC 3056 §2), or the address itself. */
function embedded(address: ipaddr.IPv4 | ipaddr.IPv6): ipaddr.IPv4 | ipaddr.IPv6 {
  if (address.kind() === 'ipv4') return address;
  const ipv6 = address as ipaddr.IPv6;
  if (ipv6.isIPv4MappedAddress()) return ipv6.toIPv4Address();
  const bytes = ipv6.toByteArray();
  const isCompatible = bytes.slice(0, 12).every((byte) => byte === 0) && bytes.slice(12, 15).some(Boolean);
  if (isCompatible || ipv6.range() === 'rfc6052' || ipv6.range() === 'rfc6145')
    return new ipaddr.IPv4(bytes.slice(12));
  return ipv6.range() === '6to4' ? new ipaddr.IPv4(bytes.slice(2, 6)) : ipv6;
}

/** What an address is; null: nothing may connect to it (link-local, unspecified, multicast, reserved, metadata services). */
export function reachOf(text: string): Reach | null {
  if (!ipaddr.isValid(text)) return null;
  const parsed = ipaddr.parse(text);
  const address = embedded(parsed);
  if (METADATA.has(address.toString()) || METADATA.has(parsed.toString())) return null;
  return KINDS[address.range()] ?? null;
}

/** Whether a page at an address of `from` may make us ask for one of `to`. */
export const mayReach = (from: Reach, to: Reach): boolean => REACHES.indexOf(to) <= REACHES.indexOf(from);
