import { useDefinitionDraft } from '../drafting/useDefinitionDraft';
import { fetchLauncher, type Launcher, type LauncherBrief, launcherQuery, saveLauncher } from './api';

/** Holds the launcher being written and saves it by itself. */
export function useLauncherDraft(siteId: string, launcher: Launcher) {
  return useDefinitionDraft<LauncherBrief, Launcher>(launcher, {
    noun: 'launcher',
    queryKey: launcherQuery(siteId, launcher.id).queryKey,
    fetch: () => fetchLauncher(siteId, launcher.id),
    save: (name, content, version) => saveLauncher(siteId, launcher.id, name, content, version),
  });
}

const PARTS: Record<'name' | keyof LauncherBrief, string> = {
  name: 'the name',
  where: 'where it stands',
  who: 'for whom it stands',
  priority: 'the priority',
  look: 'the look',
  speaker: 'who speaks',
  words: 'the words',
  channels: 'the ways to talk',
  hours: 'the hours',
  closed: 'what it does when closed',
  rungs: 'the greetings',
  thenNext: 'what comes after a refused greeting',
  mostPerVisit: 'how many greetings a visit has',
  fragment: 'what opens it',
  direct: 'whether it goes straight to the channel',
  mailTo: 'who gets its messages',
  scriptId: 'the script its talks begin with',
  groupId: 'who answers',
};

/** How a part is called on the page. */
export const partWords = (part: keyof typeof PARTS): string => PARTS[part];
