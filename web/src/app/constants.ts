/** The catalogue and the tables that the screen looks things up in: asked for once. */
import { useQuery } from "@tanstack/react-query";
import { api, got, type Constants } from "./api";

export const useConstants = () =>
  useQuery({
    queryKey: ["constants"],
    queryFn: () => got<Constants>(api.GET("/api/constants")),
    staleTime: Infinity,
  });
