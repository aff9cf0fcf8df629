package ironsieve.server.edit;

import ironsieve.files.Contents;
import ironsieve.files.Documents.AcceptedDoc;
import ironsieve.files.Documents.ChapterDoc;
import ironsieve.files.Documents.DecryptionRuleDoc;
import ironsieve.files.Documents.FieldDoc;
import ironsieve.files.Documents.MetadataDoc;
import ironsieve.files.Documents.PartDoc;
import ironsieve.files.Documents.PromiseDoc;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.Documents.SetDoc;
import ironsieve.files.FaultException;
import ironsieve.files.RecordKind;
import ironsieve.files.Renaming;
import ironsieve.files.RulePrint;
import ironsieve.server.edit.RulebaseStep.Place;
import ironsieve.server.edit.RulebaseStep.RulePatch;
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
import java.util.stream.Collectors;

/** Takes steps on a copy of a rulebase's contents. */
final class Steps implements RulebaseStep.Visitor {

  private static final MetadataDoc NO_METADATA = new MetadataDoc(null, null, null);

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

  /**
   * Takes one step.
   *
   * @throws FaultException if it cannot be taken, naming what stands in the way
   */
  void take(RulebaseStep step) {
    step.accept(this);
  }

  @Override
  public void addRule(RulebaseStep.AddRule step) {
    String id = step.id().orElseGet(() -> Step.newId("r"));
    if (contents.rules().containsKey(id)) {
      throw new FaultException("rule " + id, "id", "there already is a rule " + id);
    }
    RuleDoc blank =
        new RuleDoc(id, null, null, "", "on", Map.of(), "any", "deny", null, "logged", "", null);
    place(patched(blank, step.rule()), step.place());
  }

  @Override
  public void changeRule(RulebaseStep.ChangeRule step) {
    put(patched(rule(step.id()), step.rule()));
  }

  @Override
  public void moveRule(RulebaseStep.MoveRule step) {
    RuleDoc moving = rule(step.id());
    removeRule(moving);
    place(moving, step.place());
  }

  @Override
  public void removeRule(RulebaseStep.RemoveRule step) {
    removeRule(rule(step.id()));
  }

  @Override
  public void setDefaultVerdict(RulebaseStep.SetDefaultVerdict step) {
    contents = contents.with(contents.title().withDefaultVerdict(step.verdict()));
  }

  @Override
  public void moveChapter(RulebaseStep.MoveChapter step) {
    ChapterDoc old = chapter(step.id());
    contents.chapters().remove(old.id());
    putChapter(new ChapterDoc(old.id(), chapterPosition(step.place()), old.title(), old.note()));
  }

  @Override
  public void changeChapter(RulebaseStep.ChangeChapter step) {
    ChapterDoc old = chapter(step.id());
    putChapter(patched(old, old.position(), step.text()));
  }

  @Override
  public void removeSet(RulebaseStep.RemoveSet step) {
    SetDoc gone = new SetDoc(step.kind(), step.name(), List.of(), "");
    remove(contents.sets(), "set", gone.id());
  }

  @Override
  public void savePart(RulebaseStep.SavePart step) {
    contents.put(RulebaseStep.PartKind.of(step.part()).record(), inPlace(step.part()));
  }

  @Override
  public void removePart(RulebaseStep.RemovePart step) {
    RecordKind kind = step.partKind().record();
    remove(contents.records().get(kind), kind.word(), step.id());
  }

  @Override
  public void removePromise(RulebaseStep.RemovePromise step) {
    remove(contents.promises(), "promise", step.id());
  }

  /** A part as it is saved; a decryption rule without a place goes above all others. */
  private PartDoc inPlace(PartDoc part) {
    if (!(part instanceof DecryptionRuleDoc line) || line.position() != null) {
      return part;
    }
    BigDecimal top =
        contents.decryptionInOrder().stream()
            .findFirst()
            .map(first -> first.position().subtract(BigDecimal.ONE))
            .orElse(BigDecimal.ONE);
    return new DecryptionRuleDoc(line.id(), top, line.decision(), line.fields(), line.note());
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

  private void removeRule(RuleDoc rule) {
    if (order.containsKey(rule.chapter())) {
      order.get(rule.chapter()).remove(rule.id());
    }
    placed.remove(rule.id());
    contents.rules().remove(rule.id());
  }

  private static RuleDoc patched(RuleDoc rule, RulePatch patch) {
    return new RuleDoc(
        rule.id(),
        rule.chapter(),
        rule.position(),
        patch.name().orElse(rule.name()),
        patch.state().orElse(rule.state()),
        fields(rule.fields(), patch.fields()),
        patch.ports().orElse(rule.ports()),
        patch.verdict().orElse(rule.verdict()),
        emptyToNull(patch.sheet().orElse(or(rule.sheet(), ""))),
        patch.logging().orElse(rule.logging()),
        patch.note().orElse(rule.note()),
        metadata(patch.metadata().orElse(NO_METADATA), rule.metadata()));
  }

  private static MetadataDoc metadata(MetadataDoc patch, MetadataDoc old) {
    MetadataDoc before = old == null ? NO_METADATA : old;
    MetadataDoc found =
        new MetadataDoc(
            emptyToNull(or(patch.owner(), or(before.owner(), ""))),
            emptyToNull(or(patch.changes(), or(before.changes(), ""))),
            emptyToNull(or(patch.reviewBy(), or(before.reviewBy(), ""))));
    return found.equals(NO_METADATA) ? null : found;
  }

  private static String emptyToNull(String text) {
    return text.isEmpty() ? null : text;
  }

  /** Accepts a finding until its rule says something else, or takes that back without a reason. */
  @Override
  public void acceptFinding(RulebaseStep.AcceptFinding step) {
    RuleDoc rule = rule(step.rule());
    String reason = step.reason().orElse("");
    AcceptedDoc doc =
        new AcceptedDoc(rule.id(), step.kind(), RulePrint.of(rule), reason, step.who().orElse(""));
    if (reason.isBlank()) {
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
          if (field.values().isEmpty()) {
            fields.remove(key);
          } else {
            fields.put(key, field);
          }
        });
    return fields;
  }

  /** Puts a rule at a place among the others; its number there is found once all are placed. */
  private void place(RuleDoc rule, Place wanted) {
    Optional<String> beside = wanted.after().or(wanted::before);
    String chapter;
    int at;
    if (beside.isEmpty()) {
      chapter = wanted.chapter().map(id -> chapter(id).id()).orElseGet(this::lastChapter);
      at = inside(chapter).size();
    } else {
      RuleDoc neighbour = rule(beside.get());
      chapter = neighbour.chapter();
      // Rules that are put below each other come one after the other, so looking from the end is
      // short.
      at = inside(chapter).lastIndexOf(neighbour.id()) + (wanted.after().isPresent() ? 1 : 0);
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

  @Override
  public void addChapter(RulebaseStep.AddChapter step) {
    String id = step.id().orElseGet(() -> Step.newId("c"));
    if (contents.chapters().containsKey(id)) {
      throw new FaultException("chapter " + id, "id", "there already is a chapter " + id);
    }
    ChapterDoc blank = new ChapterDoc(id, null, null, "");
    putChapter(patched(blank, chapterPosition(step.place()), step.text()));
  }

  private static ChapterDoc patched(
      ChapterDoc old, BigDecimal position, RulebaseStep.ChapterPatch text) {
    return new ChapterDoc(
        old.id(), position, text.title().orElse(old.title()), text.note().orElse(old.note()));
  }

  @Override
  public void removeChapter(RulebaseStep.RemoveChapter step) {
    String id = step.id();
    if (!inside(chapter(id).id()).isEmpty()) {
      throw new FaultException(
          "chapter " + id, "id", "a chapter with rules cannot be removed; move them first");
    }
    contents.chapters().remove(id);
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
    Optional<String> beside = place.after().or(place::before);
    if (beside.isPresent()) {
      at = all.indexOf(chapter(beside.get())) + (place.after().isPresent() ? 1 : 0);
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

  @Override
  public void savePromise(RulebaseStep.SavePromise step) {
    String id = step.id().orElseGet(() -> Step.newId("p"));
    PromiseDoc old =
        contents.promises().getOrDefault(id, new PromiseDoc(id, "", "", null, "allow", null));
    RulebaseStep.PromisePatch patch = step.promise();
    PromiseDoc saved =
        new PromiseDoc(
            id,
            patch.group().orElse(old.group()),
            patch.name().orElse(old.name()),
            patch.probe().orElse(old.probe()),
            patch.verdict().orElse(old.verdict()),
            emptyToNull(patch.catcher().orElse(or(old.catcher(), ""))));
    if (saved.name().isBlank()) {
      throw new FaultException("promise " + id, "name", "a promise needs a name");
    }
    contents.promises().put(id, saved);
  }

  @Override
  public void saveSet(RulebaseStep.SaveSet step) {
    SetDoc set = step.set();
    Optional<String> renamed = step.oldName().filter(name -> !name.equals(set.name()));
    if (renamed.isPresent()) {
      if (contents.sets().containsKey(set.id())) {
        throw new FaultException(
            "set " + set.name(), "name", "there already is a set called " + set.name());
      }
      contents.sets().remove(set.kind() + ":" + renamed.get());
      contents = Renaming.ofOwnSet(contents, set.kind(), renamed.get(), set.name());
    }
    contents.sets().put(set.id(), set);
  }
}
