"use client";
/** Setting a node aside by hand: what it makes is not trusted. The way back is on Nodes. */
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { post } from "../live/api";
import { queryKeys } from "../live/query-keys";
import { ReasonForm } from "./reason-form";

export function SetNodeAside({ node, onDone }: { readonly node: string; readonly onDone: () => void }) {
  const client = useQueryClient();
  const aside = useMutation({
    mutationFn: (why: string) => post(`/api/nodes/${encodeURIComponent(node)}/aside`, { why }),
    onSuccess: onDone,
    onSettled: () => client.invalidateQueries({ queryKey: queryKeys.nodes }),
  });
  return (
    <ReasonForm
      lead={`${node} gets no more frames, because`}
      action="Set aside"
      label={`Why ${node} is set aside`}
      isSending={aside.isPending}
      error={aside.error}
      onSend={aside.mutate}
      onLeave={onDone}
    />
  );
}
