import { useMutation } from '@tanstack/react-query';
import { useDesk } from '../app/desk';
import type { Schema } from '../lib/api';
import { openTrial } from './api';

/**
 * Opens the live site in a tab of its own, as a chosen visitor.
 *
 * The tab is opened with the click and sent on when the link is there; opened later, browsers would block it.
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
        else location.assign(address);
      } catch (error) {
        tab?.close();
        throw error;
      }
    },
  });
}
