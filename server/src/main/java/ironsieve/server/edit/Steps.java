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
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.UUID;
import java.util.stream.Collectors;

/** Takes steps on a copy of a rulebase's contents. */
final class Steps {

  private static final KeptDoc NOTHING_KEPT = new KeptDoc(null, null, null);

  private Contents contents;

  /** By chapter the ids of its rules in order, of those chapters in which something moves. */
  private final Map<String, List<String>> order = new HashMap<>();

  /** Rules that came to a new place and have no number there yet. */
  private final Set<String> placed = new HashSet<>();

  /** Steps on this copy, which is changed. */
  Steps(Contents copy) {
    this.contents = copy;
  }

  /** What the steps made of it. */
  Contents contents() {
    settle();
    return contents;
  }

  /** Gives all rules that came to a new place their numbers; those beside each other share it. */
  private void settle() {
    order.forEach(this::settle);
    order.clear();
    placed.clear();
  }

  private void settle(String chapter, List<String> ids) {
    int digits = 0;
    for (int from = 0; from < ids.size(); from++) {
      int to = from;
      while (to < ids.size() && placed.contains(ids.get(to))) {
        to++;
      }
      if (to > from) {
        List<BigDecimal> numbers =
            Positions.between(position(ids, from - 1), position(ids, to), to - from);
        for (int i = 0; i < numbers.size(); i++) {
          put(contents.rules().get(ids.get(from + i)).at(chapter, numbers.get(i)));
          digits = Math.max(digits, numbers.get(i).precision());
        }
        from = to;
      }
    }
    if (digits > Positions.MOST_DIGITS) {
      for (int i = 0; i < ids.size(); i++) {
        put(contents.rules().get(ids.get(i)).at(chapter, BigDecimal.valueOf(i + 1L)));
      }
    }
  }

  private Optional<BigDecimal> position(List<String> ids, int at) {
    return at < 0 || at >= ids.size()
        ? Optional.empty()
        : Optional.of(contents.rules().get(ids.get(at)).position());
  }

  /** Takes one step; {@link FaultException} if it cannot be taken. */
  void take(Step step) {
    if (step == null || step.op() == null) {
      throw new FaultException("step", "op", "a step says what it does");
    }
    step.demandParts();
    switch (step.op()) {
      case ADD_RULE -> addRule(step);
      case CHANGE_RULE -> put(patched(rule(step.id()), step.rule()));
      case MOVE_RULE -> moveRule(step);
      case REMOVE_RULE -> removeRule(rule(step.id()));
      case ADD_CHAPTER -> addChapter(step);
      case CHANGE_CHAPTER -> changeChapter(step);
      case MOVE_CHAPTER -> moveChapter(step);
      case REMOVE_CHAPTER -> removeChapter(step);
      case SAVE_SET -> saveSet(step.set());
      case REMOVE_SET -> remove(contents.sets(), "set", step.set().set().id());
      case SAVE_PROMISE -> savePromise(step);
      case REMOVE_PROMISE -> remove(contents.promises(), "promise", step.id());
      case SET_LAST_LINE ->
          contents =
              contents.with(
                  new Contents.Title(
                      contents.id(),
                      contents.name(),
                      step.rule().verdict(),
                      contents.title().capacity()));
      case SAVE_PART -> PartKind.of(step).save(contents, step.part());
      case REMOVE_PART ->
          remove(contents.records().get(PartKind.of(step).record()), step.partKind(), step.id());
      case ACCEPT -> accept(step);
    }
  }

  private static void remove(Map<String, ?> records, String what, String id) {
    if (records.remove(id) == null) {
      throw new FaultException(what + " " + id, "id", "there is no " + what + " " + id);
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
    place(step.rule() == null ? blank : patched(blank, step.rule()), step.place());
  }

  private void moveRule(Step step) {
    RuleDoc moving = rule(step.id());
    removeRule(moving);
    place(moving, step.place());
  }

  private void removeRule(RuleDoc rule) {
    if (order.containsKey(rule.chapter())) {
      order.get(rule.chapter()).remove(rule.id());
    }
    placed.remove(rule.id());
    contents.rules().remove(rule.id());
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

  /** Puts a rule at a place among the others; its number there is found once all are placed. */
  private void place(RuleDoc rule, Place place) {
    Place wanted = place == null ? new Place(null, null, null) : place;
    String chapter;
    int at;
    if (wanted.after() == null && wanted.before() == null) {
      chapter = wanted.chapter() == null ? lastChapter() : chapter(wanted.chapter()).id();
      at = inside(chapter).size();
    } else {
      RuleDoc neighbour = rule(wanted.after() != null ? wanted.after() : wanted.before());
      chapter = neighbour.chapter();
      // Rules that are put below each other come one after the other, so looking from the end is
      // short.
      at = inside(chapter).lastIndexOf(neighbour.id()) + (wanted.after() != null ? 1 : 0);
    }
    inside(chapter).add(at, rule.id());
    placed.add(rule.id());
    put(rule.at(chapter, BigDecimal.ZERO));
  }

  private List<String> inside(String chapter) {
    // Not all rules in order: there may be ten thousand, and this chapter is a small part of them.
    return order.computeIfAbsent(
        chapter,
        id ->
            contents.rules().values().stream()
                .filter(rule -> id.equals(rule.chapter()))
                .sorted(Comparator.comparing(RuleDoc::position).thenComparing(RuleDoc::id))
                .map(RuleDoc::id)
                .collect(Collectors.toCollection(ArrayList::new)));
  }

  private String lastChapter() {
    List<ChapterDoc> all = contents.chaptersInOrder();
    if (all.isEmpty()) {
      throw new FaultException("rulebase", "place", "a rule needs a chapter to stand in");
    }
    return all.get(all.size() - 1).id();
  }

  private void addChapter(Step step) {
    String id = step.id() == null ? "c" + UUID.randomUUID() : step.id();
    if (contents.chapters().containsKey(id)) {
      throw new FaultException("chapter " + id, "id", "there already is a chapter " + id);
    }
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
    int at = all.size();
    if (place != null && (place.after() != null || place.before() != null)) {
      ChapterDoc neighbour = chapter(place.after() != null ? place.after() : place.before());
      at = all.indexOf(neighbour) + (place.after() != null ? 1 : 0);
    }
    BigDecimal found = chapterPosition(all, at);
    if (found.precision() <= Positions.MOST_DIGITS) {
      return found;
    }
    for (int i = 0; i < all.size(); i++) {
      // By the order they had: while they are numbered, old numbers stand among new ones.
      ChapterDoc old = all.get(i);
      BigDecimal number = BigDecimal.valueOf(i + 1L);
      contents.chapters().put(old.id(), new ChapterDoc(old.id(), number, old.title(), old.note()));
    }
    return chapterPosition(contents.chaptersInOrder(), at);
  }

  private static BigDecimal chapterPosition(List<ChapterDoc> all, int at) {
    Optional<BigDecimal> below =
        at == 0 ? Optional.empty() : Optional.of(all.get(at - 1).position());
    Optional<BigDecimal> above =
        at == all.size() ? Optional.empty() : Optional.of(all.get(at).position());
    return Positions.between(below, above, 1).get(0);
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
