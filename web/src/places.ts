import { part } from "./lib/part";

// Signing in and the floor come first and alone; the rest follows.
export const JobSheet = part(() => import("./screens/job/JobSheet").then((m) => m.JobSheet));
export const NewJob = part(() => import("./screens/newjob/NewJob").then((m) => m.NewJob));
export const HouseRules = part(() => import("./screens/rules/HouseRules").then((m) => m.HouseRules));
export const Register = part(() => import("./screens/register/Register").then((m) => m.Register));
export const BatteryLife = part(() => import("./screens/register/BatteryLife").then((m) => m.BatteryLife));
export const People = part(() => import("./screens/people/People").then((m) => m.People));
export const ShopHistory = part(() => import("./screens/history/ShopHistory").then((m) => m.ShopHistory));
export const Account = part(() => import("./screens/account/Account").then((m) => m.Account));
export const MustChange = part(() => import("./screens/account/MustChange").then((m) => m.MustChange));
export const ByPIN = part(() => import("./parts/ByPIN").then((m) => m.ByPIN));
export const Bank = part(() => import("./screens/bank/Bank").then((m) => m.Bank));
export const Jump = part(() => import("./screens/jump/Jump").then((m) => m.Jump));
export const Guide = part(() => import("./screens/guide/Guide").then((m) => m.Guide));
export const Shelf = part(() => import("./screens/shelf/Shelf").then((m) => m.Shelf));
export const Season = part(() => import("./screens/season/Season").then((m) => m.Season));
export const PutAway = part(() => import("./screens/season/PutAway").then((m) => m.PutAway));
export const RoundWalk = part(() => import("./screens/season/RoundWalk").then((m) => m.RoundWalk));
export const SeasonPlace = part(() => import("./screens/season/SeasonPlace").then((m) => m.SeasonPlace));
export const Prices = part(() => import("./screens/shop/Prices").then((m) => m.Prices));
export const InAndOut = part(() => import("./screens/shop/InAndOut").then((m) => m.InAndOut));
export const TagGoes = part(() => import("./screens/shop/TagGoes").then((m) => m.TagGoes));
export const MomentMenu = part(() => import("./parts/MomentMenu").then((m) => m.MomentMenu));
export const DemoClock = part(() => import("./parts/DemoClock").then((m) => m.DemoClock));
export const KeysHelp = part(() => import("./parts/KeysHelp").then((m) => m.KeysHelp));
export const PersonMenu = part(() => import("./parts/PersonMenu").then((m) => m.PersonMenu));

/** Fetches what shows the place at a path. */
export async function placeAhead(path: string) {
  if (path === "/jobs/new") await NewJob.ahead();
  else if (path.includes("/guide/")) await Guide.ahead();
  else if (path === "/shelf") await Shelf.ahead();
  else if (path.startsWith("/jobs/")) await JobSheet.ahead();
  else if (path === "/rules") await HouseRules.ahead();
  else if (path === "/register") await Register.ahead();
  else if (path.startsWith("/register/")) await BatteryLife.ahead();
  else if (path === "/season/new" || path.endsWith("/change")) await PutAway.ahead();
  else if (path === "/season/round") await RoundWalk.ahead();
  else if (path === "/season/place") await SeasonPlace.ahead();
  else if (path.startsWith("/season")) await Season.ahead();
  else if (path === "/bank") await Bank.ahead();
  else if (path === "/jump") await Jump.ahead();
  else if (path === "/people") await People.ahead();
  else if (path === "/history") await ShopHistory.ahead();
  else if (path === "/prices") await Prices.ahead();
  else if (path === "/in-and-out") await InAndOut.ahead();
  else if (path.startsWith("/t/")) await TagGoes.ahead();
  else if (path === "/account") await Account.ahead();
}

/** Fetches all the rest while nothing else is asked for: it must be there when the line is not. */
export const allAhead = () =>
  Promise.allSettled(
    [
      JobSheet,
      NewJob,
      HouseRules,
      Register,
      BatteryLife,
      People,
      ShopHistory,
      Account,
      ByPIN,
      Bank,
      Jump,
      Guide,
      Shelf,
      Season,
      PutAway,
      RoundWalk,
      SeasonPlace,
      Prices,
      InAndOut,
      TagGoes,
      MomentMenu,
      KeysHelp,
      PersonMenu,
    ].map((p) => p.ahead()),
  );
