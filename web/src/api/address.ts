import { useEffect, useState } from "react";
import { api, read } from "./client";

export type Address = {
  /** Under which students' devices reach the school: `http://192.168.1.20:8321`. */
  address: string;
  /** The same as one reads it aloud. */
  host: string;
  /** Whether any device but this machine reaches it. */
  reachable: boolean;
};

const own: Address = { address: location.origin, host: location.host, reachable: true };
let known: Promise<Address> | undefined;

const ask = (): Promise<Address> =>
  read(api.GET("/api/v1/me")).then(
    ({ address, name }) =>
      address
        ? { address, host: address.replace(/^https?:\/\//, ""), reachable: true }
        : { ...own, reachable: name === null || name === undefined },
    () => own,
  );

/** What stands on the board, on slips and on the wall, asked for once; this page's own address until it is known. */
export function useAddress(): Address {
  const [address, setAddress] = useState(own);
  useEffect(() => {
    known ??= ask();
    void known.then(setAddress);
  }, []);
  return address;
}
