/** The section as a table that says the same, and where a boundary can be typed. */
import type { Plan } from "../../api/queries";
import { edgesOf, layersOf } from "../../domain/boundaries";
import { degrees } from "../../domain/format";
import { Fig } from "../../ui/Fig";
import { QuantityField } from "../../ui/QuantityField";
import { useUnits } from "../../ui/session";
import type { Preview } from "../usePreview";

export function LayerTable({ plan, voidId, preview }: { plan: Plan; voidId: string; preview: Preview }) {
  const { units } = useUnits();
  const layers = layersOf(plan, voidId);
  const edges = edgesOf(plan, voidId);
  if (!layers.length) return null;
  return (
    <details className="mb-4">
      <summary className="text-[12px] text-slate cursor-pointer">
        The section as a table, to type boundaries
      </summary>
      <table className="plain">
        <thead>
          <tr>
            <th>layer</th>
            <th>top at</th>
            <th>depth</th>
            <th>volume</th>
            <th>weight</th>
            <th>allowed</th>
            <th>hottest</th>
          </tr>
        </thead>
        <tbody>
          {layers.map((layer, index) => {
            const edge = edges[index];
            return (
              <tr key={index}>
                <td>
                  {layer.number}
                  {layer.colour ? `, ${layer.colour}` : ""}
                </td>
                <td className="w-40">
                  {edge?.movable ? (
                    <QuantityField
                      hideLabel
                      label={`Top of layer ${layer.number}`}
                      kind="length"
                      origin="chosen"
                      reading={{
                        value: layer.to_m,
                        ...(units === "us"
                          ? {}
                          : { as_typed: `${Number((layer.to_m * 1000).toFixed(2))} mm` }),
                      }}
                      onCommit={async (reading) => {
                        if (reading) await preview.move(edge, reading.value, true, reading.as_typed);
                      }}
                    />
                  ) : edge ? (
                    "colour changes here"
                  ) : (
                    "fill line"
                  )}
                </td>
                <td>
                  <Fig figure={layer.depth} plan={plan} />
                </td>
                <td>
                  <Fig figure={layer.volume} plan={plan} />
                </td>
                <td>
                  <Fig figure={layer.mass} plan={plan} />
                </td>
                <td>
                  <Fig figure={layer.allowed} plan={plan} />
                  {layer.is_allowed ? "" : " exceeded"}
                </td>
                <td>
                  {layer.heat ? (
                    <>
                      <Fig
                        figure={layer.heat.peak}
                        plan={plan}
                        as={layer.heat.runs_away ? { number: "overheats", unit: "" } : undefined}
                      />
                      , wanted to {degrees(layer.heat.wanted_c, units)}
                    </>
                  ) : (
                    "not computed"
                  )}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </details>
  );
}
