import { start } from "../language/start";
import { studentWords } from "../language/student-words";

void start(studentWords(), () => import("./student-page"));
