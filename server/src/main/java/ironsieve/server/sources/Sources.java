package ironsieve.server.sources;

import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.progress.Progress;
import ironsieve.server.change.Change;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.NothingToDoException;
import ironsieve.server.edit.RecordChecks;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.edit.WorkspaceEditor;
import ironsieve.server.edit.WorkspacePlans;
import ironsieve.server.sources.SourceState.Resolved;
import ironsieve.server.store.Company;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * Reads sources, and makes changes of the workspace of what they have. While a source is read no
 * connection to the database is held; a source that cannot be read leaves everything as it is.
 */
@ApplicationScoped
public class Sources {

  @Inject SourceStore store;
  @Inject SourcePasswords passwords;
  @Inject SourceReader reader;
  @Inject WorkspaceEditor editor;
  @Inject WorkspacePlans plans;
  @Inject Company company;
  @Inject Clock clock;

  /** A source, and what is known of it. */
  public record Known(SourceDoc source, SourceState state) {}

  /** All sources, by name. */
  public List<Known> all() {
    Map<String, SourceState> states = store.all();
    return company.newest().contents().sources().stream()
        .map(source -> new Known(source, states.getOrDefault(source.name(), SourceState.NEW)))
        .toList();
  }

  /** Which source keeps each record of a kind current, by the record's id; not of people. */
  public Map<String, String> keepers(WorkspaceKind kind) {
    Map<String, String> keepers = new TreeMap<>();
    for (Known known : all()) {
      known
          .state()
          .brought()
          .getOrDefault(kind.word(), Set.of())
          .forEach(id -> keepers.put(id, known.source().name()));
    }
    return keepers;
  }

  /** Which source keeps a record, and when it was last found to be so. */
  public record Keeper(String source, Instant at) {}

  /** The source that keeps a record current, if one does; not of people. */
  public Optional<Keeper> keeper(WorkspaceKind kind, String id) {
    return all().stream()
        .filter(known -> known.state().brought().getOrDefault(kind.word(), Set.of()).contains(id))
        .map(
            known ->
                new Keeper(
                    known.source().name(),
                    known.state().resolvedAt().getOrDefault(id, known.state().goodAt())))
        .findFirst();
  }

  /**
   * One source.
   *
   * @throws UnknownException naming those there are
   */
  public Known of(String name) {
    return new Known(source(name), store.state(name));
  }

  private SourceDoc source(String name) {
    WorkspaceContents contents = company.newest().contents();
    return contents
        .record(WorkspaceKind.SOURCE, name)
        .map(SourceDoc.class::cast)
        .orElseThrow(
            () ->
                UnknownException.of(
                    "source", name, contents.sources().stream().map(SourceDoc::name).toList()));
  }

  /** Keeps the password that a source asks for. */
  public void password(String name, String password) {
    passwords.keep(source(name), password);
  }

  /**
   * Reads a source now, and takes what is new if that is how it is set up. If it cannot be read,
   * its state says why.
   *
   * @param author whose change it is if there is one
   * @throws FaultException if it is being read already
   */
  public Known sync(String name, Author author, Progress progress) {
    SourceDoc source = source(name);
    if (!store.claim(name)) {
      throw new FaultException(
          "source " + name, "", "it is being read at this moment; look again when that is done");
    }
    try {
      read(source, author, progress);
    } finally {
      store.release(name);
    }
    return of(name);
  }

  private void read(SourceDoc source, Author author, Progress progress) {
    SourceState state = store.state(source.name());
    Instant now = clock.instant();
    try {
      Map<String, Resolved> resolved = new TreeMap<>();
      Optional<Brought> brought = reader.read(source, state, resolved, progress);
      SourceState looked = state.with(resolved);
      if (brought.isEmpty()) {
        store.keep(source.name(), looked.same(now));
      } else {
        take(source, looked, brought.get(), author, now, progress);
      }
    } catch (SourceException | FaultException e) {
      store.keep(source.name(), state.failed(now, e.getMessage()));
    }
  }

  private void take(
      SourceDoc source,
      SourceState state,
      Brought brought,
      Author author,
      Instant now,
      Progress progress) {
    List<String> out = new ArrayList<>(brought.leftOut());
    Map<WorkspaceKind, List<Object>> records = readable(brought.records(), out);
    Adoption adoption = adoption(source, records, state);
    WorkspacePlans.Planned planned = plans.plan(adoption);
    out.addAll(adoption.left(planned.before().contents()));
    Adoption.Loss loss = adoption.loss(planned.before().contents());
    boolean isEmpty = planned.changes().isEmpty();
    if (!isEmpty && loss.isMoreThan(source.mostRemoved())) {
      String why =
          "it would take out "
              + loss.gone()
              + " of the "
              + loss.had()
              + " it brought, more than "
              + source.mostRemoved()
              + " in a hundred";
      store.keep(
          source.name(),
          state.waiting(now, brought.mark(), planned.changes().size(), why, out),
          records);
    } else if (!isEmpty && !source.adopt().equals("at once")) {
      store.keep(
          source.name(),
          state.waiting(now, brought.mark(), planned.changes().size(), "", out),
          records);
    } else {
      if (!isEmpty) {
        change(source, adoption, author, progress);
      }
      store.keep(
          source.name(),
          state.adopted(now, brought.mark(), ids(records), out, brought.told()),
          Map.of());
    }
  }

  private void change(SourceDoc source, Adoption adoption, Author author, Progress progress) {
    try {
      editor.change(author, "took what " + source.name() + " has now", adoption, progress);
    } catch (NothingToDoException e) {
      // Somebody was quicker with the same.
    }
  }

  /** The records that can be read; what is wrong with the others goes to {@code out}. */
  private static Map<WorkspaceKind, List<Object>> readable(
      Map<WorkspaceKind, List<Object>> records, List<String> out) {
    Map<WorkspaceKind, List<Object>> good = new EnumMap<>(WorkspaceKind.class);
    records.forEach(
        (kind, docs) -> {
          List<Object> some = new ArrayList<>();
          for (Object doc : docs) {
            try {
              RecordChecks.demandReadable(doc);
              some.add(doc);
            } catch (FaultException e) {
              out.add(e.getMessage());
            }
          }
          good.put(kind, some);
        });
    return good;
  }

  private static Adoption adoption(
      SourceDoc source, Map<WorkspaceKind, List<Object>> records, SourceState state) {
    Map<WorkspaceKind, Set<String>> brought = new EnumMap<>(WorkspaceKind.class);
    state
        .brought()
        .forEach(
            (word, ids) -> WorkspaceKind.ofWord(word).ifPresent(kind -> brought.put(kind, ids)));
    return new Adoption(source.name(), records, brought);
  }

  private static Map<String, Set<String>> ids(Map<WorkspaceKind, List<Object>> records) {
    Map<String, Set<String>> ids = new TreeMap<>();
    records.forEach(
        (kind, docs) -> {
          if (kind != WorkspaceKind.PERSON && kind != WorkspaceKind.GROUP) {
            Set<String> of = new TreeSet<>();
            docs.forEach(doc -> of.add(kind.id(doc)));
            ids.put(kind.word(), of);
          }
        });
    return ids;
  }

  /** What waits of a source, as a change that could be made. */
  public WorkspacePlans.Planned waiting(String name) {
    SourceDoc source = source(name);
    return plans.plan(adoption(source, demandWaiting(name), store.state(name)));
  }

  private Map<WorkspaceKind, List<Object>> demandWaiting(String name) {
    Map<WorkspaceKind, List<Object>> records = store.waiting(name);
    if (records.isEmpty()) {
      throw new FaultException("source " + name, "", "nothing of it waits");
    }
    return records;
  }

  /** Takes what waits of a source. */
  public Known adopt(String name, Author author, Progress progress) {
    SourceDoc source = source(name);
    SourceState state = store.state(name);
    Map<WorkspaceKind, List<Object>> records = demandWaiting(name);
    change(source, adoption(source, records, state), author, progress);
    store.keep(
        name,
        state.adopted(clock.instant(), state.mark(), ids(records), state.leftOut(), ""),
        Map.of());
    return of(name);
  }

  /** Lets go what waits of a source. */
  public Known drop(String name) {
    source(name);
    store.keep(name, store.state(name).dropped(), Map.of());
    return of(name);
  }

  /**
   * The first of what a source has, in a line each; nothing is kept.
   *
   * @param source as it may be set up
   * @param password nothing for the one that is kept under its name
   * @throws FaultException if it is set up wrong
   * @throws SourceException if it cannot be read
   */
  public List<String> first(SourceDoc source, Optional<String> password, Progress progress) {
    return reader.first(source, password, progress);
  }

  /** A change of a record, in a few words. */
  public static String words(Change change) {
    String what =
        change.before() == null || change.before().isNull()
            ? "new"
            : change.after() == null || change.after().isNull() ? "gone" : "changed";
    return change.kind() + " " + change.id() + ": " + what;
  }
}
