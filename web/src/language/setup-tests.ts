import { i18n } from "@lingui/core";

i18n.loadAndActivate({ locale: "en", locales: "en-GB", messages: {} });
