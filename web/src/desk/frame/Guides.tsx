import { useDesk } from "../store";

/** Framing guides over the picture: thirds, the line of the eyes, the room over the head. */
export function Guides() {
  const guides = useDesk((d) => d.draft!.cameras[0]!.guides);
  const pins = useDesk((d) => d.look?.face);
  if (!guides.length) return null;
  return (
    <svg
      aria-label={`Guides: ${guides.join(", ")}`}
      role="img"
      viewBox="0 0 100 100"
      preserveAspectRatio="none"
      className="pointer-events-none absolute inset-0 h-full w-full"
    >
      <g
        stroke="#efece4"
        strokeOpacity="0.55"
        strokeWidth="1"
        vectorEffect="non-scaling-stroke"
        fill="none"
      >
        {guides.includes("thirds") &&
          [100 / 3, 200 / 3].map((k) => (
            <path key={k} d={`M${k} 0V100M0 ${k}H100`} vectorEffect="non-scaling-stroke" />
          ))}
        {guides.includes("eyeline") && pins?.eyes && (
          <path
            d={`M0 ${pins.eyes[1] * 100}H100`}
            strokeDasharray="2 3"
            stroke="var(--color-lamp)"
            vectorEffect="non-scaling-stroke"
          />
        )}
        {guides.includes("headroom") && pins?.crown && (
          <path
            d={`M${pins.crown[0] * 100 - 8} ${pins.crown[1] * 100}h16M${pins.crown[0] * 100} 0V${pins.crown[1] * 100}`}
            stroke="var(--color-lamp)"
            vectorEffect="non-scaling-stroke"
          />
        )}
      </g>
    </svg>
  );
}
