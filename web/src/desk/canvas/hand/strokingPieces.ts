import { type Gesture, type Ground, takesAway } from "./gesture";

/** Stroke over pieces of the picture: those that were touched are taken together. */
export function strokingPieces({ drawing, pieces, take, onPicture }: Ground, down: PointerEvent): Gesture {
  const touch = (event: PointerEvent) => {
    const piece = pieces.at(...onPicture(event));
    if (piece !== null) drawing.pieces.add(piece);
  };
  drawing.pieces = new Set();
  touch(down);
  return {
    move: touch,
    end: (whole) => {
      if (whole && drawing.pieces.size) take([...drawing.pieces], takesAway());
      drawing.pieces = new Set();
    },
    drop: () => {
      drawing.pieces = new Set();
    },
  };
}
