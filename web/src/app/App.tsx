import { Navigate, Route, Routes, useLocation } from "react-router";
import { DayPage } from "../days/DayPage";
import { Days } from "../days/Days";
import { Desk } from "../desk/Desk";
import { History } from "../history/History";
import { KitPage } from "../kit/KitPage";
import { Blank } from "../parts/Blank";
import { Boundary } from "../parts/Boundary";
import { Invitation } from "../signin/Invitation";
import { Shelf } from "../shelf/Shelf";
import { SignIn } from "../signin/SignIn";
import { StillPage } from "../stills/StillPage";
import { Stills } from "../stills/Stills";
import { TrialPage } from "../trials/TrialPage";
import { Trials } from "../trials/Trials";
import { useSession } from "./session";

export function App() {
  return (
    <Boundary>
      <Pages />
    </Boundary>
  );
}

function Pages() {
  const session = useSession();
  const { pathname } = useLocation();
  if (session.isPending) return <Blank>Opening the shutters…</Blank>;
  if (session.isError)
    return <Blank retry={() => void session.refetch()}>{session.error.message}</Blank>;
  if (pathname.startsWith("/join/"))
    return (
      <Routes>
        <Route path="/join/:token" element={<Invitation />} />
      </Routes>
    );
  if (!session.data.username) {
    return pathname === "/sign-in" ? (
      <SignIn />
    ) : (
      <Navigate to="/sign-in" state={{ from: pathname }} replace />
    );
  }
  return (
    <Routes>
      <Route path="/" element={<Shelf />} />
      <Route path="/setups/:id" element={<Desk />} />
      <Route path="/setups/:id/history" element={<History />} />
      <Route path="/productions/:id/trials" element={<Trials />} />
      <Route path="/trials/:id" element={<TrialPage />} />
      <Route path="/productions/:id/stills" element={<Stills />} />
      <Route path="/stills/:id" element={<StillPage />} />
      <Route path="/productions/:id/kit" element={<KitPage />} />
      <Route path="/productions/:id/days" element={<Days />} />
      <Route path="/days/:id" element={<DayPage />} />
      <Route path="/sign-in" element={<Navigate to="/" replace />} />
      <Route path="*" element={<Blank>There is nothing at this address.</Blank>} />
    </Routes>
  );
}
