import { useQuery } from '@tanstack/react-query';
import { Refusal } from '../data/api';
import { Failed, Waiting } from '../kit/Notice';
import { clock, day } from '../kit/time';
import { useDesk } from '../session/desk';
import { houseQuery } from './api';
import { LimitsSection } from './LimitsSection';
import { MovingSection } from './MovingSection';

/** How the house itself stands, for whoever runs it: each part in words, and what to do where something is wrong. */
export function HouseView() {
  const { workspace } = useDesk();
  const house = useQuery(houseQuery(workspace.id));
  // The house is shown to its first workspace alone; moving is everybody's.
  if (house.error instanceof Refusal && house.error.status === 404) return <Ours />;
  if (house.isError) return <Failed error={house.error} again={() => void house.refetch()} />;
  if (!house.data) return <Waiting>Looking at the house</Waiting>;
  const wrong = house.data.parts.filter((p) => p.advice).length;
  return (
    <>
      <section aria-label="State of the house" className="grid max-w-[820px] content-start p-4">
        <p className="pb-3 font-display text-[16px] leading-[26px]">
          {wrong === 0 ? 'All is well.' : wrong === 1 ? 'One thing wants to be seen to.' : `${wrong} things want to be seen to.`}{' '}
          <span className="font-sans text-[13px] text-soft">
            Version {house.data.version}, running since {day(house.data.startedAt)}, {clock(house.data.startedAt)}
          </span>
        </p>
        <dl>
          {house.data.parts.map((part) => (
            <div key={part.name} className="grid grid-cols-[100px_minmax(0,1fr)] gap-x-4 border-t border-hair py-2">
              <dt className="font-semibold">{part.name}</dt>
              <dd>
                {part.state}.{part.advice && <span className="block text-warn">{part.advice}</span>}
              </dd>
            </div>
          ))}
        </dl>
      </section>
      <Ours />
    </>
  );
}

/** What is the workspace's own, whoever's house it stands in. */
function Ours() {
  return (
    <>
      <LimitsSection />
      <MovingSection />
    </>
  );
}
