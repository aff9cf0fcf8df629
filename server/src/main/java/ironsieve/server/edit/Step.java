package ironsieve.server.edit;

import com.fasterxml.jackson.core.type.TypeReference;
import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.KeptDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.FaultException;
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

  /**
   * Does nothing if all is there that the step needs.
   *
   * @throws FaultException naming the first part that is missing or not one there can be
   */
  void demandParts() {
    switch (op) {
      case ADD_RULE -> demandId(id == null || isId(id));
      case CHANGE_RULE, SET_LAST_LINE -> demand("rule", rule);
      case MOVE_RULE, REMOVE_RULE, MOVE_CHAPTER, REMOVE_CHAPTER, REMOVE_PROMISE -> demand("id", id);
      case ADD_CHAPTER -> {
        demandId(id == null || isId(id));
        demand("text", text);
      }
      case CHANGE_CHAPTER -> {
        demand("id", id);
        demand("text", text);
      }
      case SAVE_SET, REMOVE_SET -> {
        demand("set", set);
        demand("set.set", set.set());
        demand("set.set.kind", set.set().kind());
        demand("set.set.name", set.set().name());
      }
      case SAVE_PART -> demand("part", part);
      case REMOVE_PART -> demand("id", id);
      case ACCEPT -> demand("acceptance", acceptance);
      case SAVE_PROMISE -> {
        demandId(id == null || isId(id));
        demand("promise", promise);
      }
    }
    if (op == Op.SET_LAST_LINE) {
      demand("rule.verdict", rule.verdict());
    }
    demandNoNulls();
  }

  private void demandNoNulls() {
    if (rule != null && rule.fields() != null) {
      rule.fields()
          .forEach(
              (key, field) -> {
                if (field != null && field.values() != null) {
                  field.values().forEach(value -> demand("rule.fields." + key + ".values", value));
                }
              });
    }
    if (set != null && set.set() != null && set.set().values() != null) {
      set.set().values().forEach(value -> demand("set.set.values", value));
    }
  }

  private void demand(String field, Object given) {
    if (given == null) {
      throw new FaultException(
          "step " + op, field, "the step " + op + " needs \"" + field + "\", and it is missing");
    }
  }

  private void demandId(boolean fine) {
    if (!fine) {
      throw new FaultException(
          "step " + op, "id", "an id is 1 to 100 characters without spaces, quotes, colons or #");
    }
  }

  private static boolean isId(String text) {
    return text.matches("[^\\s\":#;]{1,100}");
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
