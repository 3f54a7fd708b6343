import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { api, got, Problem } from "../app/api";
import type { Asked, Day } from "./day";

const UNDOS = 50;

/**
 * A day as it is stored, and the ways to change it. Changes go one after another, each by the
 * version that the one before left; what was asked before each is kept for the hand to go back to.
 */
export function useDay(id: number) {
  const queries = useQueryClient(),
    key = ["day-plan", id];
  const day = useQuery({
    queryKey: key,
    queryFn: () => got<Day>(api.GET("/api/days/{pk}", { params: { path: { pk: id } } })),
  });
  const line = useRef<Promise<unknown>>(Promise.resolve()),
    before = useRef<Asked[]>([]);
  const [fault, setFault] = useState(""),
    [ordering, setOrdering] = useState(false),
    [undos, setUndos] = useState(0);
  const now = () => queries.getQueryData<Day>(key)!;
  const put = (made: Day) => queries.setQueryData(key, made);

  /** After what is under way; a refusal is said and what is stored is fetched again. */
  function next(step: () => Promise<Day>) {
    line.current = line.current.then(async () => {
      try {
        put(await step());
        setFault("");
      } catch (error) {
        setFault((error as Error).message);
        if (error instanceof Problem && error.status === 409) await day.refetch();
      }
    });
    return line.current;
  }
  const store = (asked: Asked, title: string) =>
    got<Day>(
      api.PUT("/api/days/{pk}", {
        params: { path: { pk: id } },
        body: { version: now().version, title, asked },
      }),
    );
  function change(make: (asked: Asked) => Asked) {
    return next(async () => {
      const { asked, title } = now();
      const made = await store(make(asked), title);
      before.current = [...before.current, asked].slice(-UNDOS);
      setUndos(before.current.length);
      return made;
    });
  }
  const rename = (title: string) => next(() => store(now().asked, title));
  function undo() {
    return next(async () => {
      const asked = before.current.pop();
      setUndos(before.current.length);
      return asked ? store(asked, now().title) : now();
    });
  }
  function order() {
    return next(async () => {
      setOrdering(true);
      try {
        return await got<Day>(api.POST("/api/days/{pk}/order", { params: { path: { pk: id } } }));
      } finally {
        setOrdering(false);
      }
    });
  }
  return { day, change, rename, undo, undos, order, ordering, fault };
}
