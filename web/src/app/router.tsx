import { createBrowserRouter } from "react-router";
import { Desk } from "../desk/desk";
import { Lost } from "./lost";
import { Shell } from "./shell";

export const router = createBrowserRouter([
  {
    path: "/",
    element: <Shell />,
    errorElement: <Lost />,
    children: [
      { index: true, element: <Desk /> },
      { path: "account", lazy: async () => ({ Component: (await import("../accounts/account-page")).AccountPage }) },
      { path: "people", lazy: async () => ({ Component: (await import("../accounts/people-page")).PeoplePage }) },
      {
        path: "people/privacy",
        lazy: async () => ({ Component: (await import("../accounts/privacy-page")).PrivacyPage }),
      },
      {
        path: "people/log",
        lazy: async () => ({ Component: (await import("../accounts/security-log-page")).SecurityLogPage }),
      },
      { path: "classes", lazy: async () => ({ Component: (await import("../classes/classes")).Classes }) },
      {
        path: "classes/:classId",
        lazy: async () => ({ Component: (await import("../classes/class-page")).ClassPage }),
      },
      { path: "bank/:itemId?", lazy: async () => ({ Component: (await import("./bank-page")).BankPage }) },
      { path: "tests", lazy: async () => ({ Component: (await import("../editions/tests")).Tests }) },
      {
        path: "tests/:testId",
        lazy: async () => ({ Component: (await import("../editions/test-page")).TestPage }),
      },
      {
        path: "tests/:testId/equivalent",
        lazy: async () => ({ Component: (await import("../editions/equivalent-page")).EquivalentPage }),
      },
      { path: "shelf", lazy: async () => ({ Component: (await import("../editions/shelf")).Shelf }) },
      {
        path: "sittings",
        lazy: async () => ({ Component: (await import("../delivery/sittings")).Sittings }),
      },
      {
        path: "sittings/:sittingId",
        lazy: async () => ({ Component: (await import("./sitting-page")).SittingPage }),
      },
      {
        path: "sittings/:sittingId/one-to-one",
        lazy: async () => ({ Component: (await import("../one_to_one/cards-page")).CardsPage }),
      },
      {
        path: "sittings/:sittingId/watching",
        lazy: async () => ({ Component: (await import("../performances/watching-page")).WatchingPage }),
      },
      {
        path: "sittings/:sittingId/camera",
        lazy: async () => ({ Component: (await import("../room/camera")).Camera }),
      },
      {
        path: "sittings/:sittingId/rounds",
        lazy: async () => ({ Component: (await import("../room/lesson-record")).LessonRecordPage }),
      },
      {
        path: "sittings/:sittingId/placement",
        lazy: async () => ({ Component: (await import("../placement/placement-page")).PlacementPage }),
      },
      {
        path: "sittings/:sittingId/paper",
        lazy: async () => ({ Component: (await import("../paper/sheets-page")).SheetsPage }),
      },
      {
        path: "sittings/:sittingId/sheets/:seatId",
        lazy: async () => ({ Component: (await import("../paper/seat-sheet")).SeatSheet }),
      },
      { path: "sittings/scans/:scanId?", lazy: async () => ({ Component: (await import("../paper/inbox")).Inbox }) },
      {
        path: "sittings/queries",
        lazy: async () => ({ Component: (await import("../paper/queries-page")).QueriesPage }),
      },
      {
        path: "timetable",
        lazy: async () => ({ Component: (await import("../timetable/timetable-page")).TimetablePage }),
      },
      { path: "marking", lazy: async () => ({ Component: (await import("../grading/marking")).Marking }) },
      {
        path: "marking/comments",
        lazy: async () => ({ Component: (await import("../grading/comments-page")).CommentsPage }),
      },
      {
        path: "marking/:sittingId",
        lazy: async () => ({ Component: (await import("../grading/marking-page")).MarkingPage }),
      },
      {
        path: "marking/:sittingId/same/:item",
        lazy: async () => ({ Component: (await import("../grading/answer-groups-page")).SamePage }),
      },
      {
        path: "marking/:sittingId/away",
        lazy: async () => ({ Component: (await import("../grading/offline-package-page")).AwayPage }),
      },
      {
        path: "marking/:sittingId/pile",
        lazy: async () => ({ Component: (await import("../grading/new-pile-page")).NewPilePage }),
      },
      {
        path: "marking/:sittingId/compare",
        lazy: async () => ({ Component: (await import("../comparison/new-comparison")).NewComparison }),
      },
      {
        path: "comparisons/:comparisonId",
        lazy: async () => ({ Component: (await import("../comparison/comparison-page")).ComparisonPage }),
      },
      {
        path: "comparisons/:comparisonId/judge",
        lazy: async () => ({ Component: (await import("../comparison/comparing")).Comparing }),
      },
      {
        path: "piles/:pileId",
        lazy: async () => ({ Component: (await import("../grading/pile-page")).PilePage }),
      },
      {
        path: "piles/:pileId/mark",
        lazy: async () => ({ Component: (await import("../grading/pile-desk-page")).PileDeskPage }),
      },
      {
        path: "marking/:sittingId/second",
        lazy: async () => ({ Component: (await import("../grading/second-marking-page")).SecondPage }),
      },
      {
        path: "findings",
        lazy: async () => ({ Component: (await import("../findings/findings")).Findings }),
      },
      {
        path: "findings/:sittingId",
        lazy: async () => ({ Component: (await import("../findings/findings-page")).FindingsPage }),
      },
      { path: "skills", lazy: async () => ({ Component: (await import("../bank/skills-page")).SkillsPage }) },
      {
        path: "materials",
        lazy: async () => ({ Component: (await import("../bank/materials")).Materials }),
      },
      {
        path: "records",
        lazy: async () => ({ Component: (await import("../records/records")).Records }),
      },
      {
        path: "records/:classId",
        lazy: async () => ({ Component: (await import("../records/class-record")).ClassRecord }),
      },
      {
        path: "records/:classId/students/:studentId",
        lazy: async () => ({ Component: (await import("../records/student-report")).StudentReport }),
      },
      {
        path: "records/:classId/not-tested",
        lazy: async () => ({ Component: (await import("../records/not-tested")).NotTestedPage }),
      },
      {
        path: "records/side-by-side",
        lazy: async () => ({ Component: (await import("../records/side-by-side")).SideBySide }),
      },
      {
        path: "records/:classId/growth",
        lazy: async () => ({ Component: (await import("../records/growth")).GrowthPage }),
      },
      {
        path: "records/:classId/rules",
        lazy: async () => ({ Component: (await import("../records/rules")).RecordRules }),
      },
      {
        path: "results/:sittingId/groups",
        lazy: async () => ({ Component: (await import("../feedback/groups-page")).GroupsPage }),
      },
      {
        path: "results/:sittingId/answers",
        lazy: async () => ({ Component: (await import("../reports/answers")).AnswersPage }),
      },
      {
        path: "results/:sittingId/questions",
        lazy: async () => ({ Component: (await import("../feedback/mark-questions-page")).MarkQuestionsPage }),
      },
      {
        path: "results/:sittingId/skills",
        lazy: async () => ({ Component: (await import("../feedback/skills-page")).SkillsPage }),
      },
      {
        path: "results/:sittingId",
        lazy: async () => ({ Component: (await import("../feedback/results-page")).ResultsPage }),
      },
      { path: "*", element: <Lost /> },
    ],
  },
]);
