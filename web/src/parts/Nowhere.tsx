import { Link } from "react-router";

/** An address that leads nowhere: in plain words, and the way back. */
export function Nowhere({ what, more }: { what: string; more: string }) {
  return (
    <div className="m-6 max-w-[60ch]">
      <h1 className="tight text-[34px] leading-tight font-[780]">{what}</h1>
      <p className="mt-1 text-[17px]">{more}</p>
      <Link to="/" className="btn mt-5">
        To the floor
      </Link>
    </div>
  );
}
