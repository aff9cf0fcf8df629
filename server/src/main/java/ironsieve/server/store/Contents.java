package ironsieve.server.store;

import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.server.store.Documents.ChapterDoc;
import ironsieve.server.store.Documents.PromiseDoc;
import ironsieve.server.store.Documents.RuleDoc;
import ironsieve.server.store.Documents.SetDoc;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/**
 * All records of one rulebase, by id. Copied before it is changed; what an editor sees is never
 * half an edit.
 *
 * @param title the rulebase itself
 * @param chapters by id
 * @param rules by id
 * @param sets by {@link SetDoc#id()}
 * @param promises by id
 */
public record Contents(
    Title title,
    Map<String, ChapterDoc> chapters,
    Map<String, RuleDoc> rules,
    Map<String, SetDoc> sets,
    Map<String, PromiseDoc> promises) {

  /**
   * The rulebase itself.
   *
   * @param lastLine the word of its last line's verdict
   */
  public record Title(String id, String name, String lastLine) {}

  public String id() {
    return title.id();
  }

  public String name() {
    return title.name();
  }

  public String lastLine() {
    return title.lastLine();
  }

  /** A copy whose maps can be changed. */
  public Contents copy() {
    return new Contents(
        title,
        new HashMap<>(chapters),
        new HashMap<>(rules),
        new HashMap<>(sets),
        new HashMap<>(promises));
  }

  /** The same with another last line. */
  public Contents withLastLine(String verdict) {
    return new Contents(new Title(id(), name(), verdict), chapters, rules, sets, promises);
  }

  /** Chapters in reading order. */
  public List<ChapterDoc> chaptersInOrder() {
    return chapters.values().stream()
        .sorted(Comparator.comparing(ChapterDoc::position).thenComparing(ChapterDoc::id))
        .toList();
  }

  /** The rules of each chapter in reading order. */
  public Map<String, List<RuleDoc>> rulesInOrder() {
    Map<String, List<RuleDoc>> byChapter = new LinkedHashMap<>();
    chaptersInOrder().forEach(chapter -> byChapter.put(chapter.id(), List.of()));
    byChapter.putAll(
        rules.values().stream()
            .sorted(Comparator.comparing(RuleDoc::position).thenComparing(RuleDoc::id))
            .collect(Collectors.groupingBy(RuleDoc::chapter)));
    return byChapter;
  }

  /** Sets by kind and name. */
  public Collection<SetDoc> setsInOrder() {
    return sets.values().stream()
        .sorted(Comparator.comparing(SetDoc::kind).thenComparing(SetDoc::name))
        .toList();
  }

  /** Promises by group and name. */
  public List<PromiseDoc> promisesInOrder() {
    return promises.values().stream()
        .sorted(Comparator.comparing(PromiseDoc::group).thenComparing(PromiseDoc::name))
        .toList();
  }

  /** The core's rulebase. */
  public Rulebase rulebase() {
    Map<String, List<RuleDoc>> ordered = rulesInOrder();
    return new Rulebase(
        name(),
        chaptersInOrder().stream()
            .map(
                chapter -> {
                  List<Rule> inside = ordered.get(chapter.id()).stream().map(Nouns::rule).toList();
                  return Nouns.chapter(chapter, inside);
                })
            .toList(),
        setsInOrder().stream().map(Nouns::set).toList(),
        Nouns.verdict("rulebase " + id(), lastLine()));
  }
}
