/** A still as the hand changes it, undone step by step, and what is read in it. */
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, got, type Schemas } from "../app/api";
import { usePreferences } from "../app/preferences";
import { draftOf, Storing, type Draft, type Standing, type Still } from "./storing";

const stillAt = (id: number) =>
  got<Still>(api.GET("/api/stills/{pk}", { params: { path: { pk: id } } }));

export const useStill = (id: number) =>
  useQuery({
    queryKey: ["still", id],
    queryFn: () => stillAt(id),
    // The hand's own draft is what counts until the page is left.
    staleTime: Infinity,
    gcTime: 0,
  });

export function useDraft(still: Still) {
  const [draft, setDraft] = useState(() => draftOf(still)),
    [past, setPast] = useState<Draft[]>([]),
    [standing, setStanding] = useState<Standing>({ waiting: false, fault: null });
  const [storing] = useState(() => new Storing(still.id, still.version, setStanding));
  useEffect(() => {
    const send = () => void storing.send();
    // A page that goes for good is told so only this way.
    globalThis.addEventListener("pagehide", send);
    return () => {
      globalThis.removeEventListener("pagehide", send);
      send();
    };
  }, [storing]);
  function put(next: Draft) {
    setDraft(next);
    storing.put(next);
  }
  return {
    ...standing,
    draft,
    edit(change: (draft: Draft) => Draft) {
      setPast([...past.slice(-99), draft]);
      put(change(draft));
    },
    undo:
      past.length > 0
        ? () => {
            setPast(past.slice(0, -1));
            put(past.at(-1)!);
          }
        : null,
    send: () => void storing.send(),
    /** Leave what was marked here and take what is stored. */
    async takeTheirs() {
      const theirs = await stillAt(still.id);
      storing.leave(theirs.version);
      setDraft(draftOf(theirs));
      setPast([]);
    },
  };
}

/** What is read in a still with these marks; the last answer stays until there is a newer one. */
export function useRead(id: number, draft: Draft) {
  const step = usePreferences((p) => p.step);
  const [settled, setSettled] = useState(draft);
  useEffect(() => {
    const soon = setTimeout(() => setSettled(draft), 200);
    return () => clearTimeout(soon);
  }, [draft]);
  const asked = { record: settled.record, marks: settled.marks, step };
  const query = useQuery({
    queryKey: ["still read", id, JSON.stringify(asked)],
    queryFn: ({ signal }) =>
      got<Schemas["StillRead"]>(
        api.POST("/api/stills/{pk}/read", { params: { path: { pk: id } }, body: asked, signal }),
      ),
    placeholderData: (before) => before,
    staleTime: Infinity,
    retry: false,
  });
  return {
    read: query.data ?? null,
    stale: query.isPlaceholderData || query.isLoading || settled !== draft,
    fault: query.error,
  };
}
