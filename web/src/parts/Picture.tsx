import { useState } from "react";

type Props = { src: string; alt: string; className?: string };

/** A picture that the server may have to make first: a skeleton until it is there, never black. */
export function Picture({ src, alt, className = "" }: Props) {
  const [state, setState] = useState<"coming" | "here" | "failed">("coming");
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
        key={src}
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
