package ironsieve.review;

/** Whether anything reaches a rule. */
enum Reached {
  YES,
  NO,
  UNKNOWN
}
