import { useEffect, useRef, useState } from "react";
import type { Constants } from "../../app/api";
import { HeightStrip } from "./HeightStrip";
import { WallLevels } from "./LevelLayer";
import { RingPlan } from "./RingPlan";
import { useDesk } from "../store";

/**
 * The home of placing: the stop-ring plan and the height strip, sharing what is left under the
 * frame.
 */
export function Placing({ constants }: { constants: Constants }) {
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<[number, number]>([0, 0]);
  useEffect(() => {
    const watch = new ResizeObserver(([entry]) =>
      setSize([entry!.contentRect.width, entry!.contentRect.height]),
    );
    watch.observe(box.current!);
    return () => watch.disconnect();
  }, []);
  const map = useDesk((d) => d.map);
  const strip = size[0] < 640 ? 108 : 150;
  return (
    <div ref={box} className="relative flex min-h-0 flex-1 overflow-hidden">
      {map && map.plane !== "floor" && map.plane !== "face" && <WallLevels map={map} />}
      {size[1] > 40 && (
        <>
          <RingPlan
            heads={constants.heads}
            pieces={constants.pieces}
            width={size[0] - strip}
            height={size[1]}
          />
          <HeightStrip width={strip} height={size[1]} />
        </>
      )}
    </div>
  );
}
