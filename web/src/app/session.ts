import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, got, setCsrf, type Schemas } from "./api";

type Session = Schemas["Session"];

function keep(session: Session) {
  setCsrf(session.csrf);
  return session;
}

/** Who is signed in. */
export function useSession() {
  return useQuery({ queryKey: ["session"], queryFn: async () => keep(await got<Session>(api.GET("/api/session"))), staleTime: Infinity });
}

export function useSignIn() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async (body: Schemas["Credentials"]) => keep(await got<Session>(api.POST("/api/session", { body }))),
    onSuccess: (session) => { queries.clear(); queries.setQueryData(["session"], session); },
  });
}

export function useSignOut() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: async () => keep(await got<Session>(api.DELETE("/api/session"))),
    onSuccess: (session) => { queries.clear(); queries.setQueryData(["session"], session); },
  });
}

export function useChangePassword() {
  return useMutation({ mutationFn: async (body: Schemas["PasswordChange"]) => keep(await got<Session>(api.POST("/api/session/password", { body }))) });
}
