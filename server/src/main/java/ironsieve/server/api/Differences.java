package ironsieve.server.api;

import ironsieve.files.Contents;
import ironsieve.files.Documents.RuleDoc;
import ironsieve.files.RecordKind;
import ironsieve.model.Chapter;
import ironsieve.model.Rule;
import ironsieve.server.api.Views.ChapterOrderView;
import ironsieve.server.api.Views.EditedView;
import ironsieve.server.api.Views.FaultView;
import ironsieve.server.api.Views.PartsView;
import ironsieve.server.api.Views.RuleView;
import ironsieve.server.change.Change;
import ironsieve.server.edit.Editor;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Set;

/**
 * What an edit changed, for somebody who has the rulebase as it was before: an edit of one rule
 * among ten thousand is told in a few lines.
 */
final class Differences {

  private final Editor.Outcome outcome;
  private final Contents old;
  private final Contents next;
  private final Set<String> rules = new HashSet<>();
  private final List<String> removed = new ArrayList<>();
  private boolean sets;

  private Differences(Editor.Outcome outcome) {
    this.outcome = outcome;
    old = outcome.before().contents();
    next = outcome.snapshot().contents();
    for (Change change : outcome.entry().changes()) {
      if (change.kind().equals(RecordKind.RULE.word())) {
        // What is shown of a set says which rules use it.
        sets |= namesSets(old.rules().get(change.id())) || namesSets(next.rules().get(change.id()));
        if (next.rules().containsKey(change.id())) {
          rules.add(change.id());
        } else {
          removed.add(change.id());
        }
      }
      sets |= change.kind().equals(RecordKind.SET.word());
    }
  }

  /** What an edit changed. */
  static EditedView edited(Editor.Outcome outcome, Editor.Possible possible) {
    return new Differences(outcome).view(possible);
  }

  private static boolean namesSets(RuleDoc doc) {
    return doc != null
        && doc.fields().values().stream()
            .anyMatch(field -> field.values().stream().anyMatch(v -> v.startsWith("set ")));
  }

  private EditedView view(Editor.Possible possible) {
    PartsView parts = Views.parts(next);
    List<ChapterOrderView> order = order();
    return new EditedView(
        outcome.snapshot().revision(),
        outcome.snapshot().state().token(),
        outcome.before().revision(),
        next.defaultVerdict(),
        changed(),
        removed,
        order.equals(asItWas()) ? null : order,
        sets ? Views.sets(next) : null,
        parts.equals(Views.parts(old)) ? null : parts,
        FaultView.of(outcome.snapshot()),
        possible.undo().orElse(null),
        possible.redo().orElse(null),
        Views.journal(outcome.entry()));
  }

  private List<RuleView> changed() {
    List<RuleView> changed = new ArrayList<>();
    int number = 0;
    for (Chapter chapter : outcome.snapshot().compiled().rulebase().chapters()) {
      for (Rule rule : chapter.rules()) {
        number++;
        if (rules.contains(rule.id())) {
          changed.add(Views.rule(next.rules().get(rule.id()), number, rule));
        }
      }
    }
    return changed;
  }

  private List<Chapter> before() {
    return outcome.before().compiled().rulebase().chapters();
  }

  private List<ChapterOrderView> asItWas() {
    return before().stream().map(c -> splice(c, List.of(), c.rules().size(), 0)).toList();
  }

  private List<ChapterOrderView> order() {
    Map<String, Chapter> known = new HashMap<>();
    before().forEach(chapter -> known.put(chapter.id(), chapter));
    return outcome.snapshot().compiled().rulebase().chapters().stream()
        .map(
            chapter -> {
              Chapter was = known.get(chapter.id());
              return splice(was == null ? List.of() : was.rules(), chapter);
            })
        .toList();
  }

  private static ChapterOrderView splice(List<Rule> was, Chapter chapter) {
    List<Rule> now = chapter.rules();
    int most = Math.min(was.size(), now.size());
    int first = 0;
    while (first < most && isSame(was.get(first), now.get(first))) {
      first++;
    }
    int last = 0;
    while (last < most - first
        && isSame(was.get(was.size() - 1 - last), now.get(now.size() - 1 - last))) {
      last++;
    }
    return splice(chapter, now.subList(first, now.size() - last), first, last);
  }

  private static ChapterOrderView splice(Chapter chapter, List<Rule> rules, int first, int last) {
    return new ChapterOrderView(
        chapter.id(),
        chapter.title(),
        chapter.note(),
        first,
        rules.stream().map(Rule::id).toList(),
        last);
  }

  private static boolean isSame(Rule one, Rule other) {
    return one == other || Objects.equals(one.id(), other.id());
  }
}
