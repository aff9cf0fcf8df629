package ironsieve.server.store;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.math.BigDecimal;
import java.util.List;
import java.util.Map;

/**
 * The documents that records are kept as. Values inside are texts as {@link
 * ironsieve.text.ValueText} reads them, so a document means the same wherever it is read.
 */
public final class Documents {

  private Documents() {}

  /**
   * One field of a rule.
   *
   * @param sense {@code is} or {@code is not}
   */
  public record FieldDoc(String sense, List<String> values) {}

  /**
   * One rule.
   *
   * @param chapter the id of the chapter it stands in
   * @param position its place in the chapter; any numbers that sort right
   * @param state {@code on} or {@code off}
   * @param fields by field key, such as {@code from.zones}; a missing one says any
   * @param ports {@code any} or {@code usual}
   * @param verdict {@code allow}, {@code deny} or {@code reject}
   * @param logging {@code log} or {@code quiet}
   */
  @JsonInclude(JsonInclude.Include.NON_NULL)
  public record RuleDoc(
      String id,
      String chapter,
      BigDecimal position,
      String name,
      String state,
      Map<String, FieldDoc> fields,
      String ports,
      String verdict,
      String logging,
      String note) {

    public RuleDoc {
      position = plain(position);
    }

    /** The same rule somewhere else. */
    public RuleDoc at(String newChapter, BigDecimal newPosition) {
      return new RuleDoc(
          id, newChapter, newPosition, name, state, fields, ports, verdict, logging, note);
    }

    /** The same rule with other fields. */
    public RuleDoc withFields(Map<String, FieldDoc> newFields) {
      return new RuleDoc(
          id, chapter, position, name, state, newFields, ports, verdict, logging, note);
    }
  }

  /** One chapter, without its rules. */
  public record ChapterDoc(String id, BigDecimal position, String title, String note) {

    public ChapterDoc {
      position = plain(position);
    }
  }

  /** The one spelling of a number, so that equal positions are equal documents. */
  private static BigDecimal plain(BigDecimal number) {
    if (number == null) {
      return null;
    }
    BigDecimal stripped = number.stripTrailingZeros();
    return stripped.scale() < 0 ? stripped.setScale(0) : stripped;
  }

  /**
   * One named set.
   *
   * @param kind the word of a {@link ironsieve.model.ValueKind}
   */
  public record SetDoc(String kind, String name, List<String> values, String note) {

    /** What identifies it in its rulebase. */
    public String id() {
      return kind + ":" + name;
    }
  }

  /**
   * One promise.
   *
   * @param group what it belongs to, in words; may be empty
   * @param name what it is about
   * @param probe the connection, as a probe that leaves nothing to be filled in
   * @param verdict the word of the verdict it must get
   * @param catcher the id of the rule that must catch it; null where that does not matter
   */
  public record PromiseDoc(
      String id, String group, String name, String probe, String verdict, String catcher) {}

  /** One zone; {@code side} is {@code inside}, {@code outside} or {@code gateway}. */
  public record ZoneDoc(String name, String side, List<String> networks, String note) {}

  /** One group of the directory. */
  public record GroupDoc(String name, List<String> parents, String note) {}

  /** One person of the directory. */
  public record PersonDoc(
      String login, String name, List<String> groups, Map<String, String> attributes) {}

  /** One application of the catalogue. */
  public record ApplicationDoc(
      String name,
      String category,
      String family,
      String provider,
      String exposure,
      String workValue,
      List<String> usualPorts,
      List<String> ridesOn,
      List<String> needs,
      List<String> features,
      String description) {}
}
