import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Button } from '../../kit/Button';
import { CopyButton } from '../../kit/Copy';
import { Waiting } from '../../kit/Notice';
import { Refused } from '../../kit/Panel';
import { ago } from '../../kit/time';
import { useNow } from '../../kit/useNow';
import { useDesk } from '../../session/desk';
import { mayAct } from '../../session/model';
import { disconnectShop, makeShopKey, type Shop, shopQuery } from '../api';

/** What a shop's add-on is given, and what has become of it. */
export function ShopConnect() {
  const { site, member } = useDesk();
  const queries = useQueryClient();
  // Whoever pastes the key elsewhere looks back here to see whether it took.
  const { data: shop, error, isPending } = useQuery({ ...shopQuery(site.id), refetchInterval: 3000 });
  const [sure, setSure] = useState<'replace' | 'disconnect'>();
  const done = () => {
    setSure(undefined);
    for (const key of ['shop', 'sources']) void queries.invalidateQueries({ queryKey: [key] });
  };
  const make = useMutation({ mutationFn: () => makeShopKey(site.id), onSuccess: done });
  const disconnect = useMutation({ mutationFn: () => disconnectShop(site.id), onSuccess: done });
  const isOwner = mayAct(member, 'connect');
  if (isPending) return <Waiting>Asking for the shop</Waiting>;
  if (error) return <Refused error={error} />;
  if (!shop)
    return (
      <div className="grid gap-3">
        <p>
          Make a key, then paste three lines into the add-on of your shop: where this desk is, the site’s id, and the key. The add-on does
          the rest: past orders of 90 days, products with category and stock, then every order as it is placed.
        </p>
        {isOwner ? (
          <p>
            <Button kind="primary" onClick={() => make.mutate()} disabled={make.isPending}>
              Make a key
            </Button>
          </p>
        ) : (
          <p className="text-soft">Only owners make the key: whoever has it can report orders. Ask one of them.</p>
        )}
        <Refused error={make.error} />
      </div>
    );
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-3">
      <ShopNews shop={shop} />
      <dl className="grid grid-cols-[minmax(0,1fr)] gap-2">
        <Line name="Desk" value={shop.desk} />
        <Line name="Site id" value={shop.siteId} />
        {shop.key && <Line name="Key" value={shop.key} secret />}
      </dl>
      {isOwner && (
        <div className="flex flex-wrap items-center gap-2">
          {sure ? (
            <>
              <span>
                {sure === 'replace'
                  ? 'The old key is void at once: nothing comes until the add-on has the new one.'
                  : 'Nothing more comes. What came stays.'}
              </span>
              <Button
                kind="danger"
                onClick={() => (sure === 'replace' ? make : disconnect).mutate()}
                disabled={make.isPending || disconnect.isPending}
              >
                {sure === 'replace' ? 'Yes, replace it' : 'Yes, disconnect'}
              </Button>
              <Button onClick={() => setSure(undefined)}>No</Button>
            </>
          ) : (
            <>
              <Button onClick={() => setSure('replace')}>Replace the key</Button>
              <Button kind="danger" onClick={() => setSure('disconnect')}>
                Disconnect the shop
              </Button>
            </>
          )}
        </div>
      )}
      <Refused error={make.error ?? disconnect.error} />
    </div>
  );
}

function ShopNews({ shop }: { shop: Shop }) {
  const now = useNow(5000);
  return (
    <div role="status" className="grid gap-1">
      {shop.connectedAt ? (
        <p className="border-s-4 border-good ps-2">
          <b>{shop.name}</b> connected {ago(shop.connectedAt, now)}
          {shop.heardAt ? ` and last sent something ${ago(shop.heardAt, now)}.` : '. It has not sent anything yet.'}
        </p>
      ) : (
        <p className="border-s-4 border-warn ps-2">The add-on has not said hello yet. This line changes by itself once it has.</p>
      )}
      {shop.refusedBecause && (
        <p className="border-s-4 border-bad ps-2">
          Refused {ago(shop.refusedAt ?? '', now)}: {shop.refusedBecause}
        </p>
      )}
    </div>
  );
}

function Line({ name, value, secret }: { name: string; value: string; secret?: boolean }) {
  const [shown, setShown] = useState(!secret);
  return (
    <div className="grid grid-cols-[72px_minmax(0,1fr)] items-center gap-2 border-b border-hair pb-2">
      <dt className="font-semibold">{name}</dt>
      <dd className="flex items-center gap-2">
        {shown ? (
          <code className="min-w-0 flex-1 font-mono text-[12.5px] break-all">{value}</code>
        ) : (
          <span className="flex-1">
            <Button kind="link" onClick={() => setShown(true)}>
              Show the key
            </Button>
          </span>
        )}
        <CopyButton text={value}>Copy</CopyButton>
      </dd>
    </div>
  );
}
