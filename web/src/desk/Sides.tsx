import type { Desk } from "../api/client";
import { Divider } from "../theme/Divider";
import * as words from "../words/words";
import type { PictureViewer } from "./canvas/viewer";
import type { Actions } from "./doing/actions";
import { JobSheet } from "./sheets/JobSheet";
import { useStateOf } from "./state/state";
import { TakesTray } from "./tray/TakesTray";

type Props = { desk: Desk; actions: Actions; viewer: PictureViewer | null };

/** The panel on the left, with the edge that makes it wider or folds it away. */
export function SheetSide(props: Props) {
  const { sheetWide, sheetFolded, set } = useStateOf("sheetWide", "sheetFolded", "set");
  return (
    <>
      {!sheetFolded && <JobSheet {...props} />}
      <Divider
        label={words.desk.sheetWidth}
        of="job-sheet"
        side="left"
        value={sheetWide}
        least={200}
        most={480}
        folded={sheetFolded}
        onChange={(wide) => set({ sheetWide: wide })}
        onFold={(folded) => set({ sheetFolded: folded })}
      />
    </>
  );
}

/** Of the takes, px: three rows of buttons. */
const LEAST_TRAY = 108;

/** The takes under the picture, with the edge that makes them larger or folds them away. Their place is kept before
 * there are any, so that the picture does not shrink when the first one comes. */
export function TraySide(props: Props) {
  const { trayTall, trayFolded, set } = useStateOf("trayTall", "trayFolded", "set");
  const high = window.innerHeight;
  const own = Math.round(Math.min(250, Math.max(LEAST_TRAY, Math.min(0.155 * high, 0.24 * high - 68))));
  return (
    <>
      <Divider
        label={words.desk.trayHeight}
        of="takes-tray"
        side="bottom"
        value={trayTall || own}
        least={LEAST_TRAY}
        most={480}
        folded={trayFolded}
        onChange={(tall) => set({ trayTall: tall })}
        onFold={(folded) => set({ trayFolded: folded })}
      />
      {!trayFolded && <TakesTray {...props} />}
    </>
  );
}
