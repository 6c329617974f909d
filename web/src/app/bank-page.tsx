import { Bank } from "../bank/bank";
import { SharedLook } from "../editions/shared-look";

/** The bank, which shows colleagues' questions with the paper that comes later in the job. */
export function BankPage() {
  return <Bank Look={SharedLook} />;
}
