import { useMutation, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import { call, post, type Finding, type WritingState } from '../api/client';
import { queryClient, writingQuery } from '../api/queries';
import { useRoom } from '../rooms/roomContext';

export type LeftRemark = WritingState['left'][number];

/** A remark by what it says, wherever in its file it stands by now. */
const nameOf = (f: { code: string; message: string; file: string | null }) =>
  `${f.code}\n${f.message}\n${f.file ?? ''}`;

/** Findings without those that were left as they are. What has to be fixed can't be left. */
export function withoutLeft(findings: readonly Finding[], left: readonly LeftRemark[]): Finding[] {
  const names = new Set(left.map(nameOf));
  return findings.filter((f) => f.kind === 'fix' || !names.has(nameOf(f)));
}

/** Remarks that somebody chose to leave as they are: kept with the manuscript, for all who write in it. */
export function useLeft(findings: Finding[], onProblem: (why: string) => void) {
  const { manuscript } = useRoom();
  const { data } = useQuery(writingQuery(manuscript.id));
  const base = `/api/manuscripts/${manuscript.id}/writing/left`;
  const done = {
    onSuccess: () => queryClient.invalidateQueries({ queryKey: writingQuery(manuscript.id).queryKey }),
    onError: (e: Error) => onProblem(e.message),
  };
  const leave = useMutation({
    mutationFn: ({ code, message, file }: Finding) => post(base, { code, message, file: file ?? '' }),
    ...done,
  });
  const takeUp = useMutation({ mutationFn: (id: number) => call('DELETE', `${base}/${id}`), ...done });
  const left = data?.left;
  const asked = useMemo(() => (left && left.length > 0 ? withoutLeft(findings, left) : findings), [findings, left]);
  return { asked, left: left ?? [], leave: leave.mutate, takeUp: takeUp.mutate };
}
