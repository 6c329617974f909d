import { useEffect } from "react";
import { useSearchParams } from "react-router";
import { useKeys } from "./keys";

/** The “new” sheet of a list: opened by its button, by N, or by a link that ends in `?new=1`. */
export function useNewOne(): [boolean, (open: boolean) => void] {
  const [params, setParams] = useSearchParams();
  const open = params.get("new") === "1";
  const setOpen = (next: boolean) => setParams(next ? { new: "1" } : {}, { replace: true });
  useKeys({ n: () => setOpen(true) });
  useEffect(() => {
    // A link from elsewhere may arrive while another list is shown: start at its top.
    if (open) scrollTo(0, 0);
  }, [open]);
  return [open, setOpen];
}
