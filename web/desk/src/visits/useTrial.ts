import { useMutation } from '@tanstack/react-query';
import type { Schema } from '../data/api';
import { say } from '../data/toasts';
import { useDesk } from '../session/desk';
import { openTrial } from './api';

/**
 * Opens the live site in a tab of its own, as a chosen visitor.
 *
 * The tab is opened with the click and sent on when the link is there; opened later, browsers would block it. Where it is
 * blocked all the same, the way there is offered: the desk itself stays.
 */
export function useTrial() {
  const { site } = useDesk();
  return useMutation({
    mutationFn: async (trial: Omit<Schema<'TrialRequest'>, 'liftLimits' | 'draft'> & Partial<Schema<'TrialRequest'>>) => {
      const tab = window.open('about:blank', '_blank');
      if (tab) tab.opener = null;
      try {
        const { address } = await openTrial(site.id, { liftLimits: false, draft: null, ...trial });
        if (tab) tab.location.replace(address);
        else
          say('Your browser kept the new tab from opening.', {
            act: { words: 'Open the trial visit', run: () => void window.open(address, '_blank', 'noopener') },
          });
      } catch (error) {
        tab?.close();
        throw error;
      }
    },
  });
}
