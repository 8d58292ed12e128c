/** The upper face in a picture: its four corners, found by the outline or dragged, and how long and wide it is. The
 *  same for a camera and for a photo in low side light. */
import { useRef, useState } from "react";
import { findFaces } from "../../../api/operations.generated";
import { readQuantities } from "../../../ui/readQuantity";
import { useUnits } from "../../../ui/session";
import { PhotoBoard, type Pixel } from "../../measure/files/PhotoBoard";
import { holds, nearestTo, START } from "./corners";
import { jpegOf } from "./jpeg";
import { useFaceSize } from "./useFaceSize";

const BY_HAND = "Drag the four corners onto those of the upper face.";

/** A picture to be marked. url: where it is shown from. */
export interface Still {
  url: string;
  width: number;
  height: number;
}

export interface MarkedFace {
  corners_px: Pixel[];
  length_m: number;
  width_m: number;
}

export function useFace(pieceId: number | null) {
  const { units } = useUnits();
  const known = useFaceSize(pieceId);
  const [still, setStill] = useState<Still | null>(null);
  const [corners, setCorners] = useState<Pixel[]>([]);
  const [faces, setFaces] = useState<Pixel[][]>([]);
  const [sizes, setSizes] = useState({ length: "", width: "" });
  const [says, setSays] = useState("");
  const newest = useRef("");

  /** Shows it at once, and sets the corners when its outline is found, unless a hand was there before. */
  const show = async (picture: Still) => {
    newest.current = picture.url;
    setStill(picture);
    setFaces([]);
    const start = START.map(([x, y]): Pixel => [x * picture.width, y * picture.height]);
    setCorners(start);
    if (known && !sizes.length) setSizes(known);
    setSays("Looking for the outline …");
    try {
      const found = await outlinesIn(picture);
      if (newest.current !== picture.url) return;
      setFaces(found);
      setSays(spoken(found.length));
      if (found[0]) setCorners((now) => (now === start ? found[0]! : now));
    } catch (error) {
      if (newest.current === picture.url)
        setSays(`The outline could not be looked for (${(error as Error).message}). ${BY_HAND}`);
    }
  };
  const others = () => faces.filter((face) => !holds(corners, middle(face)));
  const read = async (): Promise<MarkedFace> => {
    const fields = [
      { key: "length", kind: "length" },
      { key: "width", kind: "length" },
    ];
    const told = await readQuantities(fields, sizes, units);
    if (!told["length"] || !told["width"]) throw new Error("Enter how long and how wide the face is.");
    return { corners_px: corners, length_m: told["length"].value, width_m: told["width"].value };
  };
  return {
    still,
    show,
    clear: () => {
      newest.current = "";
      setStill(null);
    },
    corners,
    setCorners,
    faces,
    others,
    sizes,
    setSizes,
    says,
    read,
  };
}

type Face = ReturnType<typeof useFace>;

export function FaceBoard({ face }: { face: Face }) {
  return (
    <PhotoBoard
      src={face.still!.url}
      width={face.still!.width}
      height={face.still!.height}
      kind="rectangle"
      corners={face.corners}
      onCorners={face.setCorners}
      outline={[]}
      onOutline={() => undefined}
      onTap={(place) => face.setCorners((now) => nearestTo(now, place))}
    />
  );
}

export function FaceFields({ face }: { face: Face }) {
  const others = face.others();
  return (
    <>
      <p>
        <span role="status">{face.says}</span> A tap brings the nearest corner there. 1 is far left, then on
        round to the right.
      </p>
      {face.faces.length > 1 && others[0] ? (
        <button type="button" className="big-quiet px-0!" onClick={() => face.setCorners(others[0]!)}>
          Mark the other one
        </button>
      ) : null}
      <div className="flex flex-wrap gap-4 items-end">
        {(["length", "width"] as const).map((name) => (
          <label key={name} className="grid text-[15px] text-slate">
            {name === "length" ? "long, far left to far right" : "wide, far to near"}
            <input
              className="box text-[19px]! w-[170px]!"
              value={face.sizes[name]}
              onChange={(event) => face.setSizes({ ...face.sizes, [name]: event.target.value })}
            />
          </label>
        ))}
      </div>
    </>
  );
}

function spoken(number: number): string {
  if (!number) return `No outline stands out. ${BY_HAND}`;
  if (number === 1)
    return "The outline was found: look whether the four corners lie on those of the upper face, and drag what does not.";
  return (
    `${number} faces are in the picture. Only the marked one is looked at: see whether its corners lie right, ` +
    "and keep the others a hand's breadth away."
  );
}

function middle(face: Pixel[]): Pixel {
  return [
    face.reduce((sum, [x]) => sum + x, 0) / face.length,
    face.reduce((sum, [, y]) => sum + y, 0) / face.length,
  ];
}

/** In the picture's own pixels; a large photo is looked at smaller. */
async function outlinesIn(picture: Still): Promise<Pixel[][]> {
  const image = new Image();
  image.src = picture.url;
  await image.decode();
  const small = await jpegOf(image, picture.width, picture.height);
  if (!small) throw new Error("the browser makes no JPEG of it");
  const times = small.width / picture.width;
  const { faces } = await findFaces(small.blob);
  return faces.map((face) => face.map(([x, y]): Pixel => [x! / times, y! / times]));
}
