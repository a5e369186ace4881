import { createContext, useContext, useEffect } from 'react';

/** Somebody of the team with the same site's desk open. */
export interface Colleague {
  memberId: string;
  name: string;
  /** What they are at: "callout:ID" or "callout:ID:facet"; empty for nothing in particular. */
  place: string;
  /** Whether they said that they are away for visitors, or have not moved for long. */
  isAway: boolean;
}

/** Who is at the desk, and the way to say what one is at oneself. */
export interface People {
  all: readonly Colleague[];
  turnTo(place: string): void;
}

export const PeopleContext = createContext<People>({ all: [], turnTo: () => undefined });

export const usePeople = () => useContext(PeopleContext);

/** Says what one is at for as long as it is on screen. */
export function useTurnedTo(place: string) {
  const { turnTo } = usePeople();
  useEffect(() => {
    turnTo(place);
    return () => turnTo('');
  }, [place, turnTo]);
}

/** Each colleague but oneself once, by name. */
export function others(all: readonly Colleague[], self: string): Colleague[] {
  const known = new Map<string, Colleague>();
  for (const person of all) if (person.memberId !== self && !known.has(person.memberId)) known.set(person.memberId, person);
  return [...known.values()];
}
