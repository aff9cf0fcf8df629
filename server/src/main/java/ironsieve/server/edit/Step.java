package ironsieve.server.edit;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.LaneDoc;
import ironsieve.files.Documents.MetadataDoc;
import ironsieve.files.Documents.NoticeDoc;
import ironsieve.files.Documents.PartDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import ironsieve.files.FaultException;
import ironsieve.files.RecordKind;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import org.eclipse.microprofile.openapi.annotations.enums.SchemaType;
import org.eclipse.microprofile.openapi.annotations.media.DiscriminatorMapping;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.eclipse.microprofile.openapi.annotations.media.SchemaProperty;

/**
 * One step of an edit: a record for each thing that can be done, with what it needs. A step is read
 * from JSON, where {@code op} says which it is, and checked as it is made: whoever holds one can
 * take it without looking at its parts again. Immutable.
 */
@JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "op")
@JsonSubTypes({
  @JsonSubTypes.Type(value = Step.AddRule.class, name = "ADD_RULE"),
  @JsonSubTypes.Type(value = Step.ChangeRule.class, name = "CHANGE_RULE"),
  @JsonSubTypes.Type(value = Step.MoveRule.class, name = "MOVE_RULE"),
  @JsonSubTypes.Type(value = Step.RemoveRule.class, name = "REMOVE_RULE"),
  @JsonSubTypes.Type(value = Step.AddChapter.class, name = "ADD_CHAPTER"),
  @JsonSubTypes.Type(value = Step.ChangeChapter.class, name = "CHANGE_CHAPTER"),
  @JsonSubTypes.Type(value = Step.MoveChapter.class, name = "MOVE_CHAPTER"),
  @JsonSubTypes.Type(value = Step.RemoveChapter.class, name = "REMOVE_CHAPTER"),
  @JsonSubTypes.Type(value = Step.SaveSet.class, name = "SAVE_SET"),
  @JsonSubTypes.Type(value = Step.RemoveSet.class, name = "REMOVE_SET"),
  @JsonSubTypes.Type(value = Step.SetDefaultVerdict.class, name = "SET_DEFAULT_VERDICT"),
  @JsonSubTypes.Type(value = Step.SavePart.class, name = "SAVE_PART"),
  @JsonSubTypes.Type(value = Step.RemovePart.class, name = "REMOVE_PART"),
  @JsonSubTypes.Type(value = Step.AcceptFinding.class, name = "ACCEPT_FINDING"),
  @JsonSubTypes.Type(value = Step.SavePromise.class, name = "SAVE_PROMISE"),
  @JsonSubTypes.Type(value = Step.RemovePromise.class, name = "REMOVE_PROMISE")
})
@JsonInclude(JsonInclude.Include.NON_ABSENT)
@Schema(
    discriminatorProperty = "op",
    oneOf = {
      Step.AddRule.class,
      Step.ChangeRule.class,
      Step.MoveRule.class,
      Step.RemoveRule.class,
      Step.AddChapter.class,
      Step.ChangeChapter.class,
      Step.MoveChapter.class,
      Step.RemoveChapter.class,
      Step.SaveSet.class,
      Step.RemoveSet.class,
      Step.SetDefaultVerdict.class,
      Step.SavePart.class,
      Step.RemovePart.class,
      Step.AcceptFinding.class,
      Step.SavePromise.class,
      Step.RemovePromise.class
    },
    discriminatorMapping = {
      @DiscriminatorMapping(value = "ADD_RULE", schema = Step.AddRule.class),
      @DiscriminatorMapping(value = "CHANGE_RULE", schema = Step.ChangeRule.class),
      @DiscriminatorMapping(value = "MOVE_RULE", schema = Step.MoveRule.class),
      @DiscriminatorMapping(value = "REMOVE_RULE", schema = Step.RemoveRule.class),
      @DiscriminatorMapping(value = "ADD_CHAPTER", schema = Step.AddChapter.class),
      @DiscriminatorMapping(value = "CHANGE_CHAPTER", schema = Step.ChangeChapter.class),
      @DiscriminatorMapping(value = "MOVE_CHAPTER", schema = Step.MoveChapter.class),
      @DiscriminatorMapping(value = "REMOVE_CHAPTER", schema = Step.RemoveChapter.class),
      @DiscriminatorMapping(value = "SAVE_SET", schema = Step.SaveSet.class),
      @DiscriminatorMapping(value = "REMOVE_SET", schema = Step.RemoveSet.class),
      @DiscriminatorMapping(value = "SET_DEFAULT_VERDICT", schema = Step.SetDefaultVerdict.class),
      @DiscriminatorMapping(value = "SAVE_PART", schema = Step.SavePart.class),
      @DiscriminatorMapping(value = "REMOVE_PART", schema = Step.RemovePart.class),
      @DiscriminatorMapping(value = "ACCEPT_FINDING", schema = Step.AcceptFinding.class),
      @DiscriminatorMapping(value = "SAVE_PROMISE", schema = Step.SavePromise.class),
      @DiscriminatorMapping(value = "REMOVE_PROMISE", schema = Step.RemovePromise.class)
    })
public sealed interface Step {

  /**
   * Adds a rule that denies everything, with what is set on it.
   *
   * @param id its id; one is made where none is given
   * @param place where it goes; at the end where that is not said
   */
  record AddRule(Optional<String> id, Place place, RulePatch rule) implements Step {

    public AddRule {
      demandId("ADD_RULE", id);
      place = place == null ? Place.END : place;
      rule = rule == null ? RulePatch.NOTHING : rule;
    }
  }

  /** Sets something on a rule. */
  @Schema(requiredProperties = {"id", "rule"})
  record ChangeRule(String id, RulePatch rule) implements Step {

    public ChangeRule {
      demand("CHANGE_RULE", "id", id);
      demand("CHANGE_RULE", "rule", rule);
    }
  }

  /** Moves a rule; to the end where no place is said. */
  @Schema(requiredProperties = {"id"})
  record MoveRule(String id, Place place) implements Step {

    public MoveRule {
      demand("MOVE_RULE", "id", id);
      place = place == null ? Place.END : place;
    }
  }

  /** Removes a rule. */
  @Schema(requiredProperties = {"id"})
  record RemoveRule(String id) implements Step {

    public RemoveRule {
      demand("REMOVE_RULE", "id", id);
    }
  }

  /**
   * Adds an empty chapter.
   *
   * @param id its id; one is made where none is given
   */
  @Schema(requiredProperties = {"text"})
  record AddChapter(Optional<String> id, Place place, ChapterPatch text) implements Step {

    public AddChapter {
      demandId("ADD_CHAPTER", id);
      place = place == null ? Place.END : place;
      demand("ADD_CHAPTER", "text", text);
    }
  }

  /** Sets a chapter's title or note. */
  @Schema(requiredProperties = {"id", "text"})
  record ChangeChapter(String id, ChapterPatch text) implements Step {

    public ChangeChapter {
      demand("CHANGE_CHAPTER", "id", id);
      demand("CHANGE_CHAPTER", "text", text);
    }
  }

  /** Moves a chapter with its rules; to the end where no place is said. */
  @Schema(requiredProperties = {"id"})
  record MoveChapter(String id, Place place) implements Step {

    public MoveChapter {
      demand("MOVE_CHAPTER", "id", id);
      place = place == null ? Place.END : place;
    }
  }

  /** Removes a chapter without rules. */
  @Schema(requiredProperties = {"id"})
  record RemoveChapter(String id) implements Step {

    public RemoveChapter {
      demand("REMOVE_CHAPTER", "id", id);
    }
  }

  /**
   * Saves a set, in the place of one with its name.
   *
   * @param oldName the name it had, if that changes: every use of it changes with it
   */
  @Schema(requiredProperties = {"set"})
  record SaveSet(SetDoc set, Optional<String> oldName) implements Step {

    public SaveSet {
      demand("SAVE_SET", "set", set);
      demand("SAVE_SET", "set.kind", set.kind());
      demand("SAVE_SET", "set.name", set.name());
      List<String> values = set.values() == null ? List.of() : set.values();
      values.forEach(value -> demand("SAVE_SET", "set.values", value));
      set = new SetDoc(set.kind(), set.name(), values, set.note() == null ? "" : set.note());
    }
  }

  /**
   * Removes a set that nothing uses.
   *
   * @param kind the word of its {@link ironsieve.model.ValueKind}
   */
  @Schema(requiredProperties = {"kind", "name"})
  record RemoveSet(String kind, String name) implements Step {

    public RemoveSet {
      demand("REMOVE_SET", "kind", kind);
      demand("REMOVE_SET", "name", name);
    }
  }

  /** Sets what happens to a connection that no rule matches. */
  @Schema(requiredProperties = {"verdict"})
  record SetDefaultVerdict(String verdict) implements Step {

    public SetDefaultVerdict {
      demand("SET_DEFAULT_VERDICT", "verdict", verdict);
    }
  }

  /** Saves a shared part whole, in the place of one with its name. */
  @Schema(
      requiredProperties = {"partKind", "part"},
      properties = {
        @SchemaProperty(name = "partKind", implementation = PartKind.class),
        @SchemaProperty(
            name = "part",
            type = SchemaType.OBJECT,
            oneOf = {SheetDoc.class, NoticeDoc.class, LaneDoc.class, DecryptionRuleDoc.class})
      })
  record SavePart(
      @JsonTypeInfo(
              use = JsonTypeInfo.Id.NAME,
              include = JsonTypeInfo.As.EXTERNAL_PROPERTY,
              property = "partKind")
          @Schema(hidden = true)
          PartDoc part)
      implements Step {

    public SavePart {
      demand("SAVE_PART", "part", part);
      String id = PartKind.of(part).record().id(part);
      demand("SAVE_PART", "part's name", id == null || id.isBlank() ? null : id);
    }
  }

  /** Removes a shared part by its name. */
  @Schema(requiredProperties = {"partKind", "id"})
  record RemovePart(PartKind partKind, String id) implements Step {

    public RemovePart {
      demand("REMOVE_PART", "partKind", partKind);
      demand("REMOVE_PART", "id", id);
    }
  }

  /**
   * Accepts a finding until its rule says something else; without a reason that is taken back.
   *
   * @param rule the rule it is about
   * @param kind the kind of finding, in words
   * @param reason why it may stay
   */
  @Schema(requiredProperties = {"rule", "kind"})
  record AcceptFinding(String rule, String kind, Optional<String> reason, Optional<String> who)
      implements Step {

    public AcceptFinding {
      demand("ACCEPT_FINDING", "rule", rule);
      demand("ACCEPT_FINDING", "kind", kind);
    }
  }

  /**
   * Adds a promise or sets something on one.
   *
   * @param id its id; one is made where none is given
   */
  @Schema(requiredProperties = {"promise"})
  record SavePromise(Optional<String> id, PromisePatch promise) implements Step {

    public SavePromise {
      demandId("SAVE_PROMISE", id);
      demand("SAVE_PROMISE", "promise", promise);
    }
  }

  /** Removes a promise. */
  @Schema(requiredProperties = {"id"})
  record RemovePromise(String id) implements Step {

    public RemovePromise {
      demand("REMOVE_PROMISE", "id", id);
    }
  }

  /**
   * A place among rules or chapters. The first that is given counts; none is the end.
   *
   * @param after the id it goes below
   * @param before the id it goes above
   * @param chapter the chapter at whose end it goes
   */
  @JsonInclude(JsonInclude.Include.NON_ABSENT)
  record Place(Optional<String> after, Optional<String> before, Optional<String> chapter) {

    /** At the end of the last chapter. */
    public static final Place END = new Place(Optional.empty(), Optional.empty(), Optional.empty());

    /** Just below something. */
    public static Place below(String id) {
      return new Place(Optional.of(id), Optional.empty(), Optional.empty());
    }

    /** Just above something. */
    public static Place above(String id) {
      return new Place(Optional.empty(), Optional.of(id), Optional.empty());
    }

    /** Below all rules of a chapter. */
    public static Place atEndOf(String chapter) {
      return new Place(Optional.empty(), Optional.empty(), Optional.of(chapter));
    }
  }

  /**
   * What to set on a rule; what is not there stays as it is.
   *
   * @param fields by field key; a field without values is taken away, so that the rule says any
   *     there
   * @param verdict what happens, such as {@code allow} or {@code ask Think twice}
   * @param sheet the name of a usage sheet; empty for none
   * @param metadata owner, changes and review day; what is null stays, what is empty goes
   */
  @JsonInclude(JsonInclude.Include.NON_ABSENT)
  record RulePatch(
      Optional<String> name,
      Optional<String> state,
      Map<String, FieldDoc> fields,
      Optional<String> ports,
      Optional<String> verdict,
      Optional<String> sheet,
      Optional<String> logging,
      Optional<String> note,
      Optional<MetadataDoc> metadata) {

    /** Sets nothing. */
    public static final RulePatch NOTHING =
        new RulePatch(
            Optional.empty(),
            Optional.empty(),
            Map.of(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty(),
            Optional.empty());

    private static final FieldDoc ANY = new FieldDoc("is", List.of());

    public RulePatch {
      Map<String, FieldDoc> checked = new LinkedHashMap<>();
      if (fields != null) {
        fields.forEach((key, field) -> checked.put(key, checked(key, field)));
      }
      fields = Collections.unmodifiableMap(checked);
    }

    private static FieldDoc checked(String key, FieldDoc field) {
      if (field == null || field.values() == null) {
        return ANY;
      }
      field.values().forEach(value -> demand("rule", "rule.fields." + key + ".values", value));
      return field;
    }
  }

  /** What to set on a chapter; what is not there stays as it is. */
  @JsonInclude(JsonInclude.Include.NON_ABSENT)
  record ChapterPatch(Optional<String> title, Optional<String> note) {}

  /**
   * What to set on a promise; what is not there stays as it is. An empty catcher means that any
   * rule may catch it.
   */
  @JsonInclude(JsonInclude.Include.NON_ABSENT)
  record PromisePatch(
      Optional<String> group,
      Optional<String> name,
      Optional<String> probe,
      Optional<String> verdict,
      Optional<String> catcher) {}

  /** The shared parts of a rulebase that are saved and removed whole. */
  enum PartKind {
    @JsonProperty("sheet")
    SHEET(RecordKind.SHEET),
    @JsonProperty("notice")
    NOTICE(RecordKind.NOTICE),
    @JsonProperty("lane")
    LANE(RecordKind.LANE),
    @JsonProperty("decryption rule")
    DECRYPTION_RULE(RecordKind.DECRYPTION_RULE);

    private final RecordKind record;

    PartKind(RecordKind record) {
      this.record = record;
    }

    RecordKind record() {
      return record;
    }

    static PartKind of(PartDoc part) {
      for (PartKind kind : values()) {
        if (kind.record.type().isInstance(part)) {
          return kind;
        }
      }
      throw new IllegalArgumentException("no kind of part: " + part);
    }
  }

  /** An id for something new: a letter and a random number. */
  static String newId(String letter) {
    return letter + UUID.randomUUID();
  }

  private static void demand(String op, String field, Object given) {
    if (given == null) {
      throw new FaultException(
          "step " + op, field, "the step " + op + " needs \"" + field + "\", and it is missing");
    }
  }

  private static void demandId(String op, Optional<String> id) {
    if (!id.orElse("new").matches("[^\\s\":#;]{1,100}")) {
      throw new FaultException(
          "step " + op, "id", "an id is 1 to 100 characters without spaces, quotes, colons or #");
    }
  }
}
