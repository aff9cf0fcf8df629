package ironsieve.server.edit;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.KeptDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Printed;
import ironsieve.model.ReadingLine;
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
 * @param partKind {@code sheet}, {@code notice}, {@code lane} or {@code reading}
 * @param part the whole sheet, notice, lane or reading line to save
 * @param acceptance which finding about the rule is accepted
 */
public record Step(
    Op op,
    String id,
    Place place,
    RulePatch rule,
    ChapterPatch text,
    SetPatch set,
    PromisePatch promise,
    String partKind,
    Map<String, Object> part,
    Acceptance acceptance) {

  /** A step about a rule. */
  public static Step ofRule(Op op, String id, Place place, RulePatch rule) {
    return new Step(op, id, place, rule, null, null, null, null, null, null);
  }

  /** A step about a chapter. */
  public static Step ofChapter(Op op, String id, Place place, ChapterPatch text) {
    return new Step(op, id, place, null, text, null, null, null, null, null);
  }

  /** A step about a set. */
  public static Step ofSet(Op op, SetPatch set) {
    return new Step(op, null, null, null, null, set, null, null, null, null);
  }

  /** A step about a promise. */
  public static Step ofPromise(Op op, String id, PromisePatch promise) {
    return new Step(op, id, null, null, null, null, promise, null, null, null);
  }

  /** Saves a line that says whose content is opened, above those there are. */
  public static Step ofReading(ReadingLine line) {
    Map<String, Object> part =
        new ObjectMapper().convertValue(Printed.reading(line, null), new TypeReference<>() {});
    return new Step(Op.SAVE_PART, line.id(), null, null, null, null, null, "reading", part, null);
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
    SAVE_PART,
    REMOVE_PART,
    ACCEPT,
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
   * @param verdict what happens, such as {@code allow} or {@code ask Think twice}
   * @param sheet the name of a usage sheet; empty for none
   * @param kept owner, changes and review day; what is null stays, what is empty goes
   */
  public record RulePatch(
      String name,
      String state,
      Map<String, FieldDoc> fields,
      String ports,
      String verdict,
      String sheet,
      String logging,
      String note,
      KeptDoc kept) {}

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

  /**
   * A finding to accept.
   *
   * @param kind the kind of finding, in words
   * @param reason why it may stay; without one the acceptance is taken back
   * @param who accepts it
   */
  public record Acceptance(String kind, String reason, String who) {}
}
