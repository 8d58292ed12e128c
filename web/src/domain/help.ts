/** Help at a field: what it is, how it is measured, what happens if it is wrong. By the field's own label. Common
 *  practice, no source. */
export interface FieldHelp {
  what: string;
  how: string;
  wrong: string;
  /** a small drawing, in a box of 120 by 60 */
  drawing?: string;
}

const ACROSS = "M10 20H110V46H10ZM10 54H110M10 50v8M110 50v8";
const DEEP = "M20 12V48H100V12M8 12V48M4 12h8M4 48h8";

export const FIELD_HELP: Record<string, FieldHelp> = {
  length: {
    what: "The longer side: of a void inside, of a board or panel on its face.",
    how: "Of a form between its walls, not over the boards it is made of; at half the depth if the walls lean.",
    wrong: "1 % off is 1 % of the resin too much or too little.",
    drawing: ACROSS,
  },
  width: {
    what: "The shorter side, square to the length.",
    how: "At both ends and in the middle; type the mean with its spread, like 118 ± 1 mm.",
    wrong: "On something narrow 2 mm are soon 2 % of the resin.",
    drawing: ACROSS,
  },
  depth: {
    what: "From the floor to the rim, or to where it is to be filled.",
    how: "A straight edge across the rim, a rule down to the floor at several places; type the mean and its spread.",
    wrong: "Depth decides how hot a layer gets, so an error here counts twice.",
    drawing: DEEP,
  },
  diameter: {
    what: "Across the middle: of a hollow inside, of a disc over its face.",
    how: "Two measures square to each other: a pipe or a tin is seldom quite round.",
    wrong: "It counts twice in the volume: 1 % off is 2 % of the resin.",
    drawing: "M60 6a24 24 0 1 0 .1 0ZM36 30H84M36 26v8M84 26v8",
  },
  thickness: {
    what: "How thick the board is; of a coat, how high the edge that is coated too.",
    how: "A calliper or a rule at the edge.",
    wrong: "The edges of a board take a tenth or more of a coat; left out, the coat runs short.",
    drawing: "M10 22H110V34H10ZM4 22h4M4 34h4M6 22V34",
  },
  "overfill to sand": {
    what: "What stands above the rim on purpose, to be sanded or planed off.",
    how: "1 to 2 mm is usual; it needs a dam that is higher.",
    wrong: "None on a leaky or soaking void, and the cured face lies below the rim.",
    drawing: "M20 18V48H100V18M20 18V10M100 18V10M24 12H96",
  },
  "soaks in": {
    what: "Resin that bare wood drinks and that is missing on top.",
    how: "Coat a test patch, weigh before and after, divide by its area; open-pored wood takes 80 to 150 mL/m². 0 when sealed.",
    wrong: "Not counted, the fill line sinks overnight, and bubbles rise out of the wood.",
  },
  "dam above the rim": {
    what: "A raised edge that holds what stands above the rim.",
    how: "From the rim to the top of the tape or board that is stuck on.",
    wrong: "Too low, and the pour runs over when it creeps or is moved.",
    drawing: "M20 24V48H100V24M20 24V8M100 24V8M8 8V24M4 8h8M4 24h8",
  },
  "film of a coat": {
    what: "The wet thickness on the face, all coats together.",
    how: "A wet-film comb, or the amount over the area: 30 g on 1000 cm² is about 0.28 mm.",
    wrong: "Under 0.15 mm it draws back into drops; over 2 mm it is too much for one flood.",
    drawing: "M10 40H110V52H10ZM10 32H110V40M4 32h4M4 40h4",
  },
  "there already": {
    what: "Film that an earlier coat has left, which this one need not lay again.",
    how: "What was weighed then, over the area.",
    wrong: "Counted twice, the coat runs over the edges.",
  },
  "drips from the edges": {
    what: "The share that runs over the edges and falls on the bench.",
    how: "Weigh the drip sheet before and after; 5 to 20 % is usual on bare edges, none on taped ones.",
    wrong: "Not counted, the middle runs short.",
  },
  "bare band at the lip": {
    what: "The band under the rim that stays free of resin, where lips touch it.",
    how: "From the rim down to the tape; 10 mm is usual.",
    wrong: "Resin where one drinks: few resins are meant for that. The data sheet decides.",
    drawing: "M34 8H86L80 54H40ZM36 20H84M96 8V20M92 8h8M92 20h8",
  },
  "reserve, for colour matching": {
    what: "More than is needed, kept for a repair in the same colour.",
    how: "3 to 5 % is usual.",
    wrong: "Without it a repair has to be matched by eye.",
  },
  density: {
    what: "Weight by volume.",
    how: "Weigh it; sink it in a full measuring cup and read what runs over; divide.",
    wrong: "Whether it floats up hangs on it, and how hard.",
  },
  "room now": {
    what: "How warm the air is where the piece stands.",
    how: "A thermometer at the height of the bench, away from sun and heater, for a quarter of an hour.",
    wrong: "10 °C (18 °F) colder takes about twice as long; warmer, layers overheat.",
  },
  "humidity now": {
    what: "Relative humidity at the bench.",
    how: "A hygrometer that has stood there for an hour.",
    wrong: "Damp air clouds epoxy (a greasy film) and foams polyurethane.",
  },
  "mixing cup holds": {
    what: "The cup to its brim. It is filled two thirds at most.",
    how: "Fill it with water and weigh: 1 g is 1 mL.",
    wrong: "Too large, and a batch is more than can be stirred or poured in time.",
  },
  "Left in cup, % of mix": {
    what: "The share of a mix that clings to cup and stick.",
    how: "Weigh cup and stick after pouring, less the empty cup; the log learns it.",
    wrong: "Too small, and the last batch runs short. Never scrape the cup to make up for it.",
  },
};
