// The rooms of the front end, in the order of the job: a folder imports only folders before it, and nothing in a circle.
const ROOMS = [
  "language",
  "ui",
  "api",
  "outbox",
  "accounts",
  "classes",
  "bank",
  "student",
  "editions",
  "delivery",
  "responses",
  "wall",
  "room",
  "one_to_one",
  "paper",
  "comparison",
  "grading",
  "performances",
  "findings",
  "feedback",
  "records",
  "reports",
  "portal",
  "placement",
  "practice",
  "timetable",
  "desk",
  "help",
  "app",
  "entries",
];
const BASE = ["ui", "api", "outbox"];

module.exports = {
  forbidden: [
    { name: "no-circles", severity: "error", from: {}, to: { circular: true } },
    ...ROOMS.map((room, at) => ({
      name: `${room}-imports-earlier-rooms`,
      severity: "error",
      from: { path: `^src/${room}/` },
      // What every room stands on may use each other, as long as nothing goes in a circle.
      to: {
        path: "^src/",
        pathNot: `^src/([^/]+$|(${[...ROOMS.slice(0, at + 1), ...(BASE.includes(room) ? BASE : [])].join("|")})/)`,
      },
    })),
    {
      name: "every-folder-is-a-room",
      severity: "error",
      from: { path: "^src/", pathNot: `^src/([^/]+$|(${ROOMS.join("|")})/)` },
      to: {},
    },
  ],
  options: {
    doNotFollow: { path: "node_modules" },
    tsConfig: { fileName: "tsconfig.json" },
    tsPreCompilationDeps: true,
    enhancedResolveOptions: { extensions: [".ts", ".tsx", ".d.ts"] },
  },
};
