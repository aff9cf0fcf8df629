package ironsieve.server.sources;

import ironsieve.files.Documents;
import ironsieve.files.Documents.GroupDoc;
import ironsieve.files.Documents.PersonDoc;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.server.edit.WorkspacePlans;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * What becomes of the workspace when it takes what a source has: what is new comes, what the source
 * brought before and no longer has goes. People and groups carry the name of their source, and are
 * left to it by every other; what somebody wrote by hand goes over to the source that has it too.
 *
 * @param source the name of the source
 * @param records all records it has now, by their kind
 * @param brought the ids of those it brought before, by their kind; not of people and groups
 */
record Adoption(
    String source,
    Map<WorkspaceKind, List<Object>> records,
    Map<WorkspaceKind, Set<String>> brought)
    implements WorkspacePlans.Rewriting {

  /** How much of what a source brought would go: addresses, networks, or records that have none. */
  record Loss(long had, long gone) {

    /** Whether that is more than so many of a hundred. */
    boolean isMoreThan(int ofHundred) {
      return gone * 100 > had * ofHundred;
    }
  }

  @Override
  public WorkspaceContents apply(WorkspaceContents before) {
    WorkspaceContents after = before.copy();
    Set<String> groupsGone = new HashSet<>();
    records.forEach(
        (kind, docs) -> {
          for (String id : gone(kind, docs, before)) {
            after.remove(kind, id);
            if (kind == WorkspaceKind.GROUP) {
              groupsGone.add(id);
            }
          }
          docs.forEach(doc -> put(after, kind, doc));
        });
    if (!groupsGone.isEmpty()) {
      after.regroup(group -> Optional.of(group).filter(name -> !groupsGone.contains(name)));
    }
    return after;
  }

  private void put(WorkspaceContents after, WorkspaceKind kind, Object doc) {
    Optional<Object> old = after.record(kind, kind.id(doc));
    if (old.map(known -> isOfAnother(known, after)).orElse(false)) {
      return;
    }
    if (doc instanceof GroupDoc group
        && old.isPresent()
        && group.parents().isEmpty()
        && group.note().isEmpty()
        && !((GroupDoc) old.get()).source().equals(source)) {
      // It is only named by those who lie in it; what somebody wrote of it stays.
      return;
    }
    after.put(kind, marked(old.map(known -> inOrderOf(known, doc)).orElse(doc)));
  }

  /** The same where only the order of the groups it names is another, which says nothing. */
  private static Object inOrderOf(Object old, Object doc) {
    if (doc instanceof PersonDoc person && isOneSet(person.groups(), ((PersonDoc) old).groups())) {
      return new PersonDoc(
          person.login(), person.name(), ((PersonDoc) old).groups(), person.attributes());
    }
    if (doc instanceof GroupDoc group && isOneSet(group.parents(), ((GroupDoc) old).parents())) {
      return new GroupDoc(group.name(), ((GroupDoc) old).parents(), group.note());
    }
    return doc;
  }

  private static boolean isOneSet(List<String> one, List<String> other) {
    return one.size() == other.size() && new HashSet<>(one).equals(new HashSet<>(other));
  }

  private Object marked(Object doc) {
    if (doc instanceof PersonDoc person) {
      return person.from(source);
    }
    return doc instanceof GroupDoc group ? group.from(source) : doc;
  }

  private static Optional<String> mark(Object doc) {
    if (doc instanceof PersonDoc person) {
      return Optional.of(person.source());
    }
    return doc instanceof GroupDoc group ? Optional.of(group.source()) : Optional.empty();
  }

  /** What a file brought, or a source that is gone, is nobody's any more. */
  private boolean isOfAnother(Object doc, WorkspaceContents in) {
    return mark(doc)
        .filter(of -> !of.equals(source) && in.record(WorkspaceKind.SOURCE, of).isPresent())
        .isPresent();
  }

  /** What the source brought of a kind, and is still there. */
  private Set<String> owned(WorkspaceKind kind, WorkspaceContents before) {
    Set<String> ids = new TreeSet<>();
    if (kind == WorkspaceKind.PERSON || kind == WorkspaceKind.GROUP) {
      before
          .records(kind)
          .forEach(
              (id, doc) -> {
                if (mark(doc).orElse("").equals(source)) {
                  ids.add(id);
                }
              });
    } else {
      ids.addAll(brought.getOrDefault(kind, Set.of()));
      ids.retainAll(before.records(kind).keySet());
    }
    return ids;
  }

  private Set<String> gone(WorkspaceKind kind, List<Object> docs, WorkspaceContents before) {
    Set<String> gone = owned(kind, before);
    docs.forEach(doc -> gone.remove(kind.id(doc)));
    return gone;
  }

  /** How much of what the source brought goes with it; of people, groups do not count. */
  Loss loss(WorkspaceContents before) {
    long had = 0;
    long lost = 0;
    for (WorkspaceKind kind : records.keySet()) {
      if (kind == WorkspaceKind.GROUP) {
        continue;
      }
      Map<String, Object> now = new HashMap<>();
      records.get(kind).forEach(doc -> now.put(kind.id(doc), doc));
      for (String id : owned(kind, before)) {
        List<String> values = values(before.record(kind, id).orElseThrow());
        Set<String> kept = now.containsKey(id) ? new HashSet<>(values(now.get(id))) : Set.of();
        had += values.size();
        lost += values.stream().filter(value -> !kept.contains(value)).count();
      }
    }
    return new Loss(had, lost);
  }

  /** What a record holds; itself where it is one thing. */
  private static List<String> values(Object doc) {
    return Documents.addresses(doc).orElse(List.of(""));
  }

  /** What of it is left to other sources, in a sentence each. */
  List<String> left(WorkspaceContents before) {
    List<String> sentences = new ArrayList<>();
    records.forEach(
        (kind, docs) ->
            docs.stream()
                .map(doc -> before.record(kind, kind.id(doc)))
                .flatMap(Optional::stream)
                .filter(doc -> isOfAnother(doc, before))
                .forEach(
                    doc ->
                        sentences.add(
                            kind.word()
                                + " "
                                + kind.id(doc)
                                + " comes from "
                                + mark(doc).orElseThrow()
                                + ", and is left to it")));
    return sentences;
  }
}
