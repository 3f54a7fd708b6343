import { useMutation, useQuery, useQueryClient, type QueryClient } from "@tanstack/react-query";
import { api, got, setPerson, type Schemas } from "./api";

type Session = Schemas["Session"];

/** If somebody else is here now, forget all that was read for the one before. */
function changeHands(queries: QueryClient, session: Session) {
  const before = queries.getQueryData<Session>(["session"]);
  if (before?.username !== session.username)
    queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== "session" });
  queries.setQueryData(["session"], session);
}

function keep(session: Session) {
  setPerson(session);
  return session;
}

/** Who is signed in. */
export function useSession() {
  return useQuery({
    queryKey: ["session"],
    queryFn: async () => keep(await got<Session>(api.GET("/api/session"))),
    staleTime: Infinity,
  });
}

export function useSignIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (body: Schemas["Credentials"]) =>
      keep(await got<Session>(api.POST("/api/session", { body }))),
    onSuccess: (session) => changeHands(queries, session),
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async () => keep(await got<Session>(api.DELETE("/api/session"))),
    onSuccess: (session) => changeHands(queries, session),
  });
}

/** Go to the door though nobody is signed in any more: ask who is. */
export function useLeave() {
  const queries = useQueryClient();
  return () => queries.invalidateQueries({ queryKey: ["session"] });
}

export function useChangePassword() {
  return useMutation({
    mutationFn: async (body: Schemas["PasswordChange"]) =>
      keep(await got<Session>(api.POST("/api/session/password", { body }))),
  });
}
