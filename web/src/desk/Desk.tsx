import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { useParams } from "react-router";
import { api, got, type Constants, type SetupRecord } from "../app/api";
import { Blank } from "../parts/Blank";
import { Frame } from "./frame/Frame";
import { Inspector } from "./Inspector";
import { useDeskKeys } from "./keys";
import { useLooking } from "./looking";
import { Notices } from "./session/Notices";
import { OwnMarks, Pointing } from "./meter/OwnMarks";
import { PutBack } from "./meter/PutBack";
import { Placing } from "./plan/Placing";
import { Readings } from "./meter/Readings";
import { finishNudge } from "./units/gestures";
import { leaveSetup, openSetup } from "./session/session";
import { useDesk } from "./store";
import { LandingMarks } from "./units/LandingMarks";
import { ReadingMarks } from "./reading/ReadingMarks";
import { TopBar } from "./TopBar";
import { useConstants } from "../app/constants";
import { LeftColumn } from "./LeftColumn";

/** One set-up under the hand. */
export function Desk() {
  const id = Number(useParams().id);
  const record = useQuery({
    queryKey: ["setup", id],
    queryFn: () => got<SetupRecord>(api.GET("/api/setups/{pk}", { params: { path: { pk: id } } })),
    gcTime: 0,
    staleTime: Infinity,
  });
  const constants = useConstants();
  useEffect(() => {
    if (record.data) void openSetup(record.data);
  }, [record.data]);
  const queries = useQueryClient();
  useEffect(
    () => () => {
      // A key's gesture ends with the desk; the shelf is read again once all is stored.
      finishNudge();
      leaveSetup(() => void queries.invalidateQueries({ queryKey: ["productions"] }));
    },
    [id, queries],
  );
  const ready = useDesk((d) => d.record?.id === id);
  const failed = record.error ?? constants.error;
  if (failed)
    return (
      <Blank
        retry={() => {
          void record.refetch();
          void constants.refetch();
        }}
      >
        {failed.message}
      </Blank>
    );
  if (!ready || !constants.data) return <Blank>Laying out the set-up…</Blank>;
  return <Stage constants={constants.data} />;
}

function Stage({ constants }: { constants: Constants }) {
  useLooking();
  useDeskKeys();
  return (
    <div className="flex h-full flex-col overflow-hidden">
      <TopBar />
      <div className="grid min-h-0 flex-1 grid-cols-[168px_minmax(0,1fr)_288px] min-[1200px]:grid-cols-[196px_minmax(0,1fr)_312px]">
        <LeftColumn constants={constants} />
        <main className="relative flex min-h-0 min-w-0 flex-col border-x border-line">
          <Frame
            constants={constants}
            offers={<PutBack />}
            over={
              <>
                <OwnMarks />
                <Pointing />
                <ReadingMarks />
                <LandingMarks />
              </>
            }
          />
          <Placing constants={constants} />
          <Notices />
        </main>
        <aside
          className="relative flex min-h-0 flex-col overflow-y-auto"
          aria-label="Readings and settings"
        >
          <Readings />
          <Inspector constants={constants} />
        </aside>
      </div>
    </div>
  );
}
