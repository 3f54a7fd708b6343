import { useEffect, useState } from "react";

type Props = { src: string; alt: string; className?: string };

/** How often a picture is asked for again, and after how long the first time [ms]. */
const TRIES = 4,
  WAIT = 2000;

/** Whoever leaves gives the connection back: a browser has six, and the desk needs them at once. */
const givingUp = (image: HTMLImageElement) => () => image.removeAttribute("src");

/**
 * A picture that the server may have to make first: a skeleton until it is there, never black. One
 * that does not come is asked for again, each time after twice as long.
 */
export function Picture({ src, alt, className = "" }: Props) {
  const [state, setState] = useState<"coming" | "here" | "failed">("coming");
  const [tries, setTries] = useState(0);
  useEffect(() => {
    if (state !== "failed" || tries >= TRIES) return;
    const again = setTimeout(
      () => {
        setState("coming");
        setTries(tries + 1);
      },
      WAIT * 2 ** tries,
    );
    return () => clearTimeout(again);
  }, [state, tries]);
  return (
    <span className={`relative block overflow-hidden bg-raised ${className}`}>
      {state !== "here" && (
        <span
          role="img"
          aria-label={state === "coming" ? "The picture is being made" : "No picture just now"}
          className={`absolute inset-0 grid place-items-center text-xs text-quiet ${state === "coming" ? "skeleton" : ""}`}
        >
          {state === "failed" && "No picture just now"}
        </span>
      )}
      <img
        key={`${src} ${tries}`}
        ref={givingUp}
        src={src}
        alt={alt}
        loading="lazy"
        onLoad={() => setState("here")}
        onError={() => setState("failed")}
        className={`h-full w-full object-cover ${state === "here" ? "" : "opacity-0"}`}
      />
    </span>
  );
}
