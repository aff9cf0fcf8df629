package ironsieve.server.edit;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.LaneDoc;
import ironsieve.files.Documents.MetadataDoc;
import ironsieve.files.Documents.NoticeDoc;
import ironsieve.files.Documents.PartDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.Documents.SheetDoc;
import ironsieve.files.RecordKind;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.enums.SchemaType;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.eclipse.microprofile.openapi.annotations.media.SchemaProperty;

/**
 * One step of an edit of a rulebase: a record for each thing that can be done, with what it needs.
 */
@JsonInclude(JsonInclude.Include.NON_ABSENT)
@Schema(
    discriminatorProperty = "op",
    oneOf = {
      RulebaseStep.AddRule.class,
      RulebaseStep.ChangeRule.class,
      RulebaseStep.MoveRule.class,
      RulebaseStep.RemoveRule.class,
      RulebaseStep.AddChapter.class,
      RulebaseStep.ChangeChapter.class,
      RulebaseStep.MoveChapter.class,
      RulebaseStep.RemoveChapter.class,
      RulebaseStep.SaveSet.class,
      RulebaseStep.RemoveSet.class,
      RulebaseStep.SetDefaultVerdict.class,
      RulebaseStep.SavePart.class,
      RulebaseStep.RemovePart.class,
      RulebaseStep.AcceptFinding.class,
      RulebaseStep.SavePromise.class,
      RulebaseStep.RemovePromise.class
    })
public sealed interface RulebaseStep extends Step {

  /** Does something for each kind of step; the compiler finds whoever forgets one. */
  interface Visitor {
    void addRule(AddRule step);

    void changeRule(ChangeRule step);

    void moveRule(MoveRule step);

    void removeRule(RemoveRule step);

    void addChapter(AddChapter step);

    void changeChapter(ChangeChapter step);

    void moveChapter(MoveChapter step);

    void removeChapter(RemoveChapter step);

    void saveSet(SaveSet step);

    void removeSet(RemoveSet step);

    void setDefaultVerdict(SetDefaultVerdict step);

    void savePart(SavePart step);

    void removePart(RemovePart step);

    void acceptFinding(AcceptFinding step);

    void savePromise(SavePromise step);

    void removePromise(RemovePromise step);
  }

  /** Has a visitor do what it does for steps of this kind. */
  void accept(Visitor visitor);

  /**
   * Adds a rule that denies everything, with what is set on it.
   *
   * @param id its id; one is made where none is given
   * @param place where it goes; at the end where that is not said
   */
  record AddRule(Optional<String> id, Place place, RulePatch rule) implements RulebaseStep {

    public AddRule {
      Step.demandId(AddRule.class, id);
      place = place == null ? Place.END : place;
      rule = rule == null ? RulePatch.NOTHING : rule;
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.addRule(this);
    }
  }

  /** Sets something on a rule. */
  @Schema(requiredProperties = {"id", "rule"})
  record ChangeRule(String id, RulePatch rule) implements RulebaseStep {

    public ChangeRule {
      Step.demand(ChangeRule.class, "id", id);
      Step.demand(ChangeRule.class, "rule", rule);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.changeRule(this);
    }
  }

  /** Moves a rule; to the end where no place is said. */
  @Schema(requiredProperties = {"id"})
  record MoveRule(String id, Place place) implements RulebaseStep {

    public MoveRule {
      Step.demand(MoveRule.class, "id", id);
      place = place == null ? Place.END : place;
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.moveRule(this);
    }
  }

  /** Removes a rule. */
  @Schema(requiredProperties = {"id"})
  record RemoveRule(String id) implements RulebaseStep {

    public RemoveRule {
      Step.demand(RemoveRule.class, "id", id);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.removeRule(this);
    }
  }

  /**
   * Adds an empty chapter.
   *
   * @param id its id; one is made where none is given
   */
  @Schema(requiredProperties = {"text"})
  record AddChapter(Optional<String> id, Place place, ChapterPatch text) implements RulebaseStep {

    public AddChapter {
      Step.demandId(AddChapter.class, id);
      place = place == null ? Place.END : place;
      Step.demand(AddChapter.class, "text", text);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.addChapter(this);
    }
  }

  /** Sets a chapter's title or note. */
  @Schema(requiredProperties = {"id", "text"})
  record ChangeChapter(String id, ChapterPatch text) implements RulebaseStep {

    public ChangeChapter {
      Step.demand(ChangeChapter.class, "id", id);
      Step.demand(ChangeChapter.class, "text", text);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.changeChapter(this);
    }
  }

  /** Moves a chapter with its rules; to the end where no place is said. */
  @Schema(requiredProperties = {"id"})
  record MoveChapter(String id, Place place) implements RulebaseStep {

    public MoveChapter {
      Step.demand(MoveChapter.class, "id", id);
      place = place == null ? Place.END : place;
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.moveChapter(this);
    }
  }

  /** Removes a chapter without rules. */
  @Schema(requiredProperties = {"id"})
  record RemoveChapter(String id) implements RulebaseStep {

    public RemoveChapter {
      Step.demand(RemoveChapter.class, "id", id);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.removeChapter(this);
    }
  }

  /**
   * Saves a set, in the place of one with its name.
   *
   * @param oldName the name it had, if that changes: every use of it changes with it
   */
  @Schema(requiredProperties = {"set"})
  record SaveSet(SetDoc set, Optional<String> oldName) implements RulebaseStep {

    public SaveSet {
      Step.demand(SaveSet.class, "set", set);
      Step.demand(SaveSet.class, "set.kind", set.kind());
      Step.demand(SaveSet.class, "set.name", set.name());
      List<String> values = set.values() == null ? List.of() : set.values();
      values.forEach(value -> Step.demand(SaveSet.class, "set.values", value));
      set = new SetDoc(set.kind(), set.name(), values, set.note() == null ? "" : set.note());
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.saveSet(this);
    }
  }

  /**
   * Removes a set that nothing uses.
   *
   * @param kind the word of its {@link ironsieve.model.ValueKind}
   */
  @Schema(requiredProperties = {"kind", "name"})
  record RemoveSet(String kind, String name) implements RulebaseStep {

    public RemoveSet {
      Step.demand(RemoveSet.class, "kind", kind);
      Step.demand(RemoveSet.class, "name", name);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.removeSet(this);
    }
  }

  /** Sets what happens to a connection that no rule matches. */
  @Schema(requiredProperties = {"verdict"})
  record SetDefaultVerdict(String verdict) implements RulebaseStep {

    public SetDefaultVerdict {
      Step.demand(SetDefaultVerdict.class, "verdict", verdict);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.setDefaultVerdict(this);
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
      implements RulebaseStep {

    public SavePart {
      Step.demand(SavePart.class, "part", part);
      String id = PartKind.of(part).record().id(part);
      Step.demand(SavePart.class, "part's name", id == null || id.isBlank() ? null : id);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.savePart(this);
    }
  }

  /** Removes a shared part by its name. */
  @Schema(requiredProperties = {"partKind", "id"})
  record RemovePart(PartKind partKind, String id) implements RulebaseStep {

    public RemovePart {
      Step.demand(RemovePart.class, "partKind", partKind);
      Step.demand(RemovePart.class, "id", id);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.removePart(this);
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
      implements RulebaseStep {

    public AcceptFinding {
      Step.demand(AcceptFinding.class, "rule", rule);
      Step.demand(AcceptFinding.class, "kind", kind);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.acceptFinding(this);
    }
  }

  /**
   * Adds a promise or sets something on one.
   *
   * @param id its id; one is made where none is given
   */
  @Schema(requiredProperties = {"promise"})
  record SavePromise(Optional<String> id, PromisePatch promise) implements RulebaseStep {

    public SavePromise {
      Step.demandId(SavePromise.class, id);
      Step.demand(SavePromise.class, "promise", promise);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.savePromise(this);
    }
  }

  /** Removes a promise. */
  @Schema(requiredProperties = {"id"})
  record RemovePromise(String id) implements RulebaseStep {

    public RemovePromise {
      Step.demand(RemovePromise.class, "id", id);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.removePromise(this);
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
      field
          .values()
          .forEach(value -> Step.demand(ChangeRule.class, "rule.fields." + key + ".values", value));
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
}
