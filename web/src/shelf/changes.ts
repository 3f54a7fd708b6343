import { useQueryClient } from "@tanstack/react-query";

/** Wait for a change to the shelf, then read the shelf again. */
export function useShelfChange() {
  const queries = useQueryClient();
  return async <T>(call: Promise<T>) => {
    const result = await call;
    await queries.invalidateQueries({ queryKey: ["productions"] });
    return result;
  };
}
