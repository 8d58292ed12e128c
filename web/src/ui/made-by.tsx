/** Who let this in: a link, a script's token, a device. */
export function MadeBy({ made_by, maker_kept }: { made_by: string | null; maker_kept: boolean }) {
  const by = maker_kept ? (made_by ? `by ${made_by}` : "by the shop's own screen") : "not known by whom";
  return <span className="text-slate">, {by}</span>;
}
