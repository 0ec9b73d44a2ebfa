import { lazy, useState, type ComponentType } from "react";

/**
 * A part of the program that is fetched when it is first shown, or ahead of that:
 * it then shows at once, with no word of loading between.
 */
export function part<P extends object>(load: () => Promise<ComponentType<P>>) {
  let here: ComponentType<P> | undefined;
  const ahead = async () => {
    here = await load();
    return { default: here };
  };
  const Later = lazy(ahead) as unknown as ComponentType<P>;
  function Part(props: P) {
    const [Shown] = useState(() => here ?? Later); // what began as one stays one
    return <Shown {...props} />;
  }
  return Object.assign(Part, { ahead });
}
