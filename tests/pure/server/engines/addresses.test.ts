import assert from 'node:assert/strict';
import { describe, test } from 'node:test';
import { mayReach, reachOf } from '../../../../src/lib/server/engines/addresses.ts';

const ADDRESSES: [string, ReturnType<typeof reachOf>, string][] = [
  ['93.184.216.34', 'public', 'anywhere'],
  ['2606:2800:220:1::1', 'public', 'anywhere, IPv6'],
  ['127.0.0.1', 'loopback', 'this machine'],
  ['127.8.8.8', 'loopback', 'this machine under another number'],
  ['::1', 'loopback', 'this machine, IPv6'],
  ['::ffff:127.0.0.1', 'loopback', 'this machine, mapped'],
  ['10.1.2.3', 'private', 'a private network'],
  ['192.168.0.7', 'private', 'a private network'],
  ['fd12::1', 'private', 'a private network, IPv6'],
  ['100.64.0.1', 'private', 'shared by a provider’s customers'],
  ['169.254.169.254', null, 'a metadata service'],
  ['::ffff:169.254.169.254', null, 'the same, mapped'],
  ['::ffff:a9fe:a9fe', null, 'the same, mapped and in hex'],
  ['64:ff9b::a9fe:a9fe', null, 'the same, translated (RFC 6052)'],
  ['64:ff9b::7f00:1', 'loopback', 'this machine, translated'],
  ['2002:a9fe:a9fe::1', null, 'the same, by 6to4'],
  ['2002:7f00:1::1', 'loopback', 'this machine, by 6to4'],
  ['::a9fe:a9fe', null, 'the same, in the old compatible form'],
  ['fd00:ec2::254', null, 'a metadata service, IPv6'],
  ['100.100.100.200', null, 'a metadata service of another kind'],
  ['fe80::1', null, 'link-local, IPv6'],
  ['0.0.0.0', null, 'unspecified'],
  ['0.1.2.3', null, 'this network'],
  ['::', null, 'unspecified, IPv6'],
  ['224.0.0.1', null, 'multicast'],
  ['255.255.255.255', null, 'broadcast'],
  ['240.0.0.1', null, 'reserved'],
  ['nonsense', null, 'no address'],
];

describe('what may be connected to', () => {
  for (const [address, reach, name] of ADDRESSES)
    test(`${address}: ${name}`, () => assert.equal(reachOf(address), reach));
  test('nothing leads further in than the page that was named', () => {
    assert.ok(
      mayReach('loopback', 'public') && mayReach('loopback', 'loopback') && mayReach('private', 'public'),
    );
    assert.ok(
      !mayReach('public', 'loopback') && !mayReach('public', 'private') && !mayReach('private', 'loopback'),
    );
  });
});
