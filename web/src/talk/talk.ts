import type { TalkLink, TalkMessage } from '../api/client';
import { brief } from '../notes/notes';

/** Where a message leads; null where that is gone. */
export function addressOfLink(manuscript: number, link: TalkLink): string | null {
  const at = `/m/${manuscript}`;
  if (link.kind === 'source') return `${at}/sources?key=${encodeURIComponent(link.target)}`;
  if (link.isGone) return null;
  if (link.kind === 'pin') return `${at}/chronicle?from=${link.revision}`;
  return `${at}/write?file=${encodeURIComponent(link.path)}&line=${link.line}`;
}

/** What a message leads to, in words. */
export function nameOfLink(link: TalkLink): string {
  if (link.kind === 'source') return `the source ${link.target}`;
  if (link.kind === 'pin') return link.isGone ? 'a pin that is gone' : `◆ ${link.name}`;
  if (link.kind === 'page') return link.isGone ? `page ${link.target}, whose words are gone` : `page ${link.target}`;
  const words = `“${brief(link.words, 60)}”`;
  return link.isGone ? `${words}, which is gone` : words;
}

/** Messages that one person said within a few minutes stand under one name. */
const Together = 5 * 60_000;

/** Whether a message goes on with what the one before it said. */
export const goesOn = (message: TalkMessage, before: TalkMessage | undefined) =>
  before !== undefined &&
  before.person?.id === message.person?.id &&
  new Date(message.at).getTime() - new Date(before.at).getTime() < Together;
