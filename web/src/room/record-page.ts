import type { Schemas } from "../api/client";

export type RecordPage = Schemas["Record"];
