import { Button } from "./button";

export function TakeOut({ what, onTake }: { what: string; onTake: () => void }) {
  return (
    <Button variant="quiet" aria-label={`Take out ${what}`} onClick={onTake}>
      take out
    </Button>
  );
}
