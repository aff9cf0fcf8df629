package ironsieve.server.edit;

import ironsieve.server.store.Documents.FieldDoc;
import ironsieve.server.store.Documents.SetDoc;
import java.util.Map;

/**
 * One step of an edit.
 *
 * @param op what to do
 * @param id the rule or chapter it is about; for a new one its id, or null to have one made; a
 *     promise's id likewise
 * @param place where a new or moved rule or chapter goes
 * @param rule what to set on a rule; null parts stay as they are
 * @param text the title and note of a chapter
 * @param set the set to save or remove; its name may be new
 * @param promise what to set on a promise; null parts stay as they are
 */
public record Step(
    Op op,
    String id,
    Place place,
    RulePatch rule,
    ChapterPatch text,
    SetPatch set,
    PromisePatch promise) {

  /** A step about a rule. */
  public static Step ofRule(Op op, String id, Place place, RulePatch rule) {
    return new Step(op, id, place, rule, null, null, null);
  }

  /** What a step does. */
  public enum Op {
    ADD_RULE,
    CHANGE_RULE,
    MOVE_RULE,
    REMOVE_RULE,
    ADD_CHAPTER,
    CHANGE_CHAPTER,
    MOVE_CHAPTER,
    REMOVE_CHAPTER,
    SAVE_SET,
    REMOVE_SET,
    SET_LAST_LINE,
    SAVE_PROMISE,
    REMOVE_PROMISE
  }

  /**
   * A place among rules or chapters. The first that is given counts.
   *
   * @param after the id it goes below
   * @param before the id it goes above
   * @param chapter the chapter at whose end it goes; without any, the end of the last one
   */
  public record Place(String after, String before, String chapter) {}

  /**
   * What to set on a rule.
   *
   * @param fields by field key; a field without values is taken away, so that the rule says any
   *     there
   */
  public record RulePatch(
      String name,
      String state,
      Map<String, FieldDoc> fields,
      String ports,
      String verdict,
      String logging,
      String note) {}

  /** What to set on a chapter. */
  public record ChapterPatch(String title, String note) {}

  /**
   * A set to save.
   *
   * @param oldName the name it had, if that changes: every use of it changes with it
   */
  public record SetPatch(SetDoc set, String oldName) {}

  /** What to set on a promise; an empty catcher means that any rule may catch it. */
  public record PromisePatch(
      String group, String name, String probe, String verdict, String catcher) {}
}
