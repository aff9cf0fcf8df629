package ironsieve.server.edit;

import ironsieve.files.Contents;
import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.KeptDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.FaultException;
import ironsieve.model.FieldName;
import ironsieve.server.edit.Step.Place;
import ironsieve.server.edit.Step.RulePatch;
import ironsieve.server.edit.Step.SetPatch;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;

/** Takes steps on a copy of a rulebase's contents. */
final class Steps {

  private static final KeptDoc NOTHING_KEPT = new KeptDoc(null, null, null);
  private static final BigDecimal TWO = BigDecimal.valueOf(2);

  private Contents contents;

  /** Steps on this copy, which is changed. */
  Steps(Contents copy) {
    this.contents = copy;
  }

  Contents contents() {
    return contents;
  }

  /** Takes one step; {@link FaultException} if it cannot be taken. */
  void take(Step step) {
    if (step.op() == null) {
      throw new FaultException("step", "op", "a step says what it does");
    }
    switch (step.op()) {
      case ADD_RULE -> addRule(step);
      case CHANGE_RULE -> put(patched(rule(step.id()), step.rule()));
      case MOVE_RULE -> moveRule(step);
      case REMOVE_RULE -> contents.rules().remove(rule(step.id()).id());
      case ADD_CHAPTER -> addChapter(step);
      case CHANGE_CHAPTER -> changeChapter(step);
      case MOVE_CHAPTER -> moveChapter(step);
      case REMOVE_CHAPTER -> removeChapter(step);
      case SAVE_SET -> saveSet(step.set());
      case REMOVE_SET -> contents.sets().remove(step.set().set().id());
      case SAVE_PROMISE -> savePromise(step);
      case REMOVE_PROMISE -> contents.promises().remove(step.id());
      case SET_LAST_LINE ->
          contents =
              contents.with(
                  new Contents.Title(
                      contents.id(),
                      contents.name(),
                      step.rule().verdict(),
                      contents.title().capacity()));
      case SAVE_PART -> PartKind.of(step).save(contents, step.part());
      case REMOVE_PART -> contents.records().get(PartKind.of(step).record()).remove(step.id());
      case ACCEPT -> accept(step);
    }
  }

  private RuleDoc rule(String id) {
    RuleDoc rule = id == null ? null : contents.rules().get(id);
    if (rule == null) {
      throw new FaultException("rule " + id, "id", "there is no rule " + id + " in this rulebase");
    }
    return rule;
  }

  private ChapterDoc chapter(String id) {
    ChapterDoc chapter = id == null ? null : contents.chapters().get(id);
    if (chapter == null) {
      throw new FaultException(
          "chapter " + id, "id", "there is no chapter " + id + " in this rulebase");
    }
    return chapter;
  }

  private void put(RuleDoc rule) {
    contents.rules().put(rule.id(), rule);
  }

  private void addRule(Step step) {
    String id = step.id() == null ? "r" + UUID.randomUUID() : step.id();
    if (contents.rules().containsKey(id)) {
      throw new FaultException("rule " + id, "id", "there already is a rule " + id);
    }
    RuleDoc blank =
        new RuleDoc(id, null, null, "", "on", Map.of(), "any", "deny", null, "log", "", null);
    RuleDoc filled = step.rule() == null ? blank : patched(blank, step.rule());
    put(placed(filled, step.place()));
  }

  private void moveRule(Step step) {
    RuleDoc moving = rule(step.id());
    contents.rules().remove(moving.id());
    put(placed(moving, step.place()));
  }

  private static RuleDoc patched(RuleDoc rule, RulePatch patch) {
    if (patch == null) {
      throw new FaultException("rule " + rule.id(), "rule", "nothing to set was given");
    }
    return new RuleDoc(
        rule.id(),
        rule.chapter(),
        rule.position(),
        or(patch.name(), rule.name()),
        or(patch.state(), rule.state()),
        patch.fields() == null ? rule.fields() : fields(rule.fields(), patch.fields()),
        or(patch.ports(), rule.ports()),
        or(patch.verdict(), rule.verdict()),
        patch.sheet() == null ? rule.sheet() : emptyToNull(patch.sheet()),
        or(patch.logging(), rule.logging()),
        or(patch.note(), rule.note()),
        kept(patch.kept(), rule.kept()));
  }

  private static KeptDoc kept(KeptDoc patch, KeptDoc old) {
    if (patch == null) {
      return old;
    }
    KeptDoc before = old == null ? NOTHING_KEPT : old;
    KeptDoc kept =
        new KeptDoc(
            emptyToNull(or(patch.owner(), or(before.owner(), ""))),
            emptyToNull(or(patch.changes(), or(before.changes(), ""))),
            emptyToNull(or(patch.reviewBy(), or(before.reviewBy(), ""))));
    return kept.equals(NOTHING_KEPT) ? null : kept;
  }

  private static String emptyToNull(String text) {
    return text.isEmpty() ? null : text;
  }

  /** Accepts a finding until its rule says something else, or takes that back without a reason. */
  private void accept(Step step) {
    RuleDoc rule = rule(step.id());
    Step.Acceptance wish = step.acceptance();
    if (wish == null || wish.kind() == null) {
      throw new FaultException("rule " + rule.id(), "acceptance", "say which finding is accepted");
    }
    AcceptedDoc doc =
        new AcceptedDoc(
            rule.id(),
            wish.kind(),
            Accepted.print(rule),
            or(wish.reason(), ""),
            or(wish.who(), ""));
    if (wish.reason() == null || wish.reason().isBlank()) {
      contents.accepted().remove(doc.id());
    } else {
      contents.accepted().put(doc.id(), doc);
    }
  }

  private static String or(String wanted, String otherwise) {
    return wanted == null ? otherwise : wanted;
  }

  private static Map<String, FieldDoc> fields(
      Map<String, FieldDoc> old, Map<String, FieldDoc> patch) {
    Map<String, FieldDoc> fields = new TreeMap<>(old);
    patch.forEach(
        (key, field) -> {
          if (field == null || field.values() == null || field.values().isEmpty()) {
            fields.remove(key);
          } else {
            fields.put(key, field);
          }
        });
    return fields;
  }

  /** The rule at a place; its position lies between its new neighbours'. */
  private RuleDoc placed(RuleDoc rule, Place place) {
    Place wanted = place == null ? new Place(null, null, null) : place;
    if (wanted.after() == null && wanted.before() == null) {
      String chapter = wanted.chapter() == null ? lastChapter() : chapter(wanted.chapter()).id();
      List<RuleDoc> inside = inside(chapter);
      return rule.at(chapter, between(positions(inside), inside.size()));
    }
    RuleDoc neighbour = rule(wanted.after() != null ? wanted.after() : wanted.before());
    List<RuleDoc> inside = inside(neighbour.chapter());
    int at = inside.indexOf(neighbour) + (wanted.after() != null ? 1 : 0);
    return rule.at(neighbour.chapter(), between(positions(inside), at));
  }

  private List<RuleDoc> inside(String chapter) {
    // Not all rules in order: there may be ten thousand, and this chapter is a small part of them.
    return contents.rules().values().stream()
        .filter(rule -> chapter.equals(rule.chapter()))
        .sorted(Comparator.comparing(RuleDoc::position).thenComparing(RuleDoc::id))
        .toList();
  }

  private static List<BigDecimal> positions(List<RuleDoc> rules) {
    return rules.stream().map(RuleDoc::position).toList();
  }

  private String lastChapter() {
    List<ChapterDoc> all = contents.chaptersInOrder();
    if (all.isEmpty()) {
      throw new FaultException("rulebase", "place", "a rule needs a chapter to stand in");
    }
    return all.get(all.size() - 1).id();
  }

  /** A number before, between or after ascending ones; there is always room. */
  private static BigDecimal between(List<BigDecimal> positions, int index) {
    if (positions.isEmpty()) {
      return BigDecimal.ONE;
    }
    if (index == 0) {
      return positions.get(0).subtract(BigDecimal.ONE);
    }
    BigDecimal below = positions.get(index - 1);
    return index == positions.size()
        ? below.add(BigDecimal.ONE)
        : below.add(positions.get(index)).divide(TWO);
  }

  private void addChapter(Step step) {
    String id = step.id() == null ? "c" + UUID.randomUUID() : step.id();
    putChapter(
        new ChapterDoc(
            id, chapterPosition(step.place()), step.text().title(), or(step.text().note(), "")));
  }

  private void changeChapter(Step step) {
    ChapterDoc old = chapter(step.id());
    putChapter(
        new ChapterDoc(
            old.id(),
            old.position(),
            or(step.text().title(), old.title()),
            or(step.text().note(), old.note())));
  }

  private void moveChapter(Step step) {
    ChapterDoc old = chapter(step.id());
    contents.chapters().remove(old.id());
    putChapter(new ChapterDoc(old.id(), chapterPosition(step.place()), old.title(), old.note()));
  }

  private void removeChapter(Step step) {
    if (!inside(chapter(step.id()).id()).isEmpty()) {
      throw new FaultException(
          "chapter " + step.id(), "id", "a chapter with rules cannot be removed; move them first");
    }
    contents.chapters().remove(step.id());
  }

  private void putChapter(ChapterDoc chapter) {
    if (chapter.title() == null || chapter.title().isBlank()) {
      throw new FaultException("chapter " + chapter.id(), "title", "a chapter needs a title");
    }
    contents.chapters().put(chapter.id(), chapter);
  }

  private BigDecimal chapterPosition(Place place) {
    List<ChapterDoc> all = contents.chaptersInOrder();
    List<BigDecimal> positions = all.stream().map(ChapterDoc::position).toList();
    if (place == null || (place.after() == null && place.before() == null)) {
      return between(positions, all.size());
    }
    ChapterDoc neighbour = chapter(place.after() != null ? place.after() : place.before());
    return between(positions, all.indexOf(neighbour) + (place.after() != null ? 1 : 0));
  }

  private void savePromise(Step step) {
    String id = step.id() == null ? "p" + UUID.randomUUID() : step.id();
    PromiseDoc old =
        contents.promises().getOrDefault(id, new PromiseDoc(id, "", "", null, "allow", null));
    Step.PromisePatch patch = step.promise();
    String catcher = or(patch.catcher(), old.catcher());
    PromiseDoc saved =
        new PromiseDoc(
            id,
            or(patch.group(), old.group()),
            or(patch.name(), old.name()),
            or(patch.probe(), old.probe()),
            or(patch.verdict(), old.verdict()),
            catcher == null || catcher.isEmpty() ? null : catcher);
    if (saved.name().isBlank()) {
      throw new FaultException("promise " + id, "name", "a promise needs a name");
    }
    contents.promises().put(id, saved);
  }

  private void saveSet(SetPatch patch) {
    SetDoc set = patch.set();
    SetDoc saved =
        new SetDoc(
            set.kind(),
            set.name(),
            set.values() == null ? List.of() : set.values(),
            or(set.note(), ""));
    if (patch.oldName() != null && !patch.oldName().equals(set.name())) {
      if (contents.sets().containsKey(saved.id())) {
        throw new FaultException(
            "set " + set.name(), "name", "there already is a set called " + set.name());
      }
      contents.sets().remove(set.kind() + ":" + patch.oldName());
      rename(set.kind(), "set " + patch.oldName(), "set " + set.name());
    }
    contents.sets().put(saved.id(), saved);
  }

  private void rename(String kind, String from, String to) {
    for (SetDoc set : List.copyOf(contents.sets().values())) {
      if (set.kind().equals(kind) && set.values().contains(from)) {
        SetDoc changed = new SetDoc(kind, set.name(), renamed(set.values(), from, to), set.note());
        contents.sets().put(changed.id(), changed);
      }
    }
    for (RuleDoc rule : List.copyOf(contents.rules().values())) {
      Map<String, FieldDoc> fields = new HashMap<>(rule.fields());
      fields.replaceAll(
          (key, field) ->
              FieldName.ofKey(key).kind().word().equals(kind)
                  ? new FieldDoc(field.sense(), renamed(field.values(), from, to))
                  : field);
      if (!fields.equals(rule.fields())) {
        put(rule.withFields(fields));
      }
    }
  }

  private static List<String> renamed(List<String> values, String from, String to) {
    List<String> changed = new ArrayList<>(values);
    changed.replaceAll(value -> value.equals(from) ? to : value);
    return changed;
  }
}
