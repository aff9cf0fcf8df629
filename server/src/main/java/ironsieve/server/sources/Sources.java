package ironsieve.server.sources;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.AtlasFiles;
import ironsieve.files.DirectoryFile;
import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.CountryDoc;
import ironsieve.files.Documents.FeedDoc;
import ironsieve.files.Documents.HostDoc;
import ironsieve.files.Documents.LdapDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.FaultException;
import ironsieve.files.SourceKind;
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
import ironsieve.server.sources.Brought.Mark;
import ironsieve.server.sources.SourceState.Resolved;
import ironsieve.server.store.Company;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.net.URI;
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
import java.util.function.Consumer;

/**
 * Reads sources, and makes changes of the workspace of what they have. While a source is read no
 * connection to the database is held; a source that cannot be read leaves everything as it is.
 */
@ApplicationScoped
public class Sources {

  private static final int MOST_SHOWN = 10;

  @Inject SourceStore store;
  @Inject WorkspaceEditor editor;
  @Inject WorkspacePlans plans;
  @Inject Company company;
  @Inject HostNames hostNames;
  @Inject ObjectMapper json;
  @Inject Clock clock;

  private final WebFeed web = new WebFeed();

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
    store.password(name, new SourceStore.Password(password, keptFor(source(name))));
  }

  /** Of so many lines that are left out is said why; the others are counted. */
  private static final int MOST_LEFT_OUT = 100;

  /** What a password is kept for; as the migration of older ones writes it. */
  private static String keptFor(SourceDoc source) {
    LdapDoc how = source.directory();
    FeedDoc feed = source.feed() == null ? FeedDoc.ANYBODY : source.feed();
    return how == null
        ? String.join("\n", source.kind(), source.address(), feed.login(), "", feed.certificates())
        : String.join(
            "\n", source.kind(), source.address(), how.bind(), how.security(), how.certificates());
  }

  /**
   * The password that is kept for a source; empty if it logs in with none.
   *
   * @throws SourceException if the one under its name was kept for another address or login: it is
   *     sent nowhere else
   */
  private String keptPassword(SourceDoc source) {
    boolean asks =
        source.directory() == null
            ? source.feed() != null && !source.feed().login().isEmpty()
            : !source.directory().bind().isEmpty();
    if (!asks) {
      return "";
    }
    Optional<SourceStore.Password> kept = store.password(source.name());
    if (kept.isPresent() && !kept.get().keptFor().equals(keptFor(source))) {
      throw new SourceException(
          "the password was stored for another address, login or encryption and is sent nowhere"
              + " else; enter it again");
    }
    return kept.map(SourceStore.Password::text).orElse("");
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
      synced(source, author, progress);
    } finally {
      store.release(name);
    }
    return of(name);
  }

  private void synced(SourceDoc source, Author author, Progress progress) {
    SourceState state = store.state(source.name());
    Instant now = clock.instant();
    try {
      Map<String, Resolved> resolved = new TreeMap<>();
      Optional<Brought> brought = read(source, state, resolved, progress);
      SourceState looked = state.with(resolved);
      if (brought.isEmpty()) {
        store.keep(source.name(), looked.same(now));
      } else {
        taken(source, looked, brought.get(), author, now, progress);
      }
    } catch (SourceException | FaultException e) {
      store.keep(source.name(), state.failed(now, e.getMessage()));
    }
  }

  private void taken(
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
    RecordChecks.demandReadable(source);
    SourceKind kind = SourceKind.ofWord(source.kind()).orElseThrow();
    if (kind == SourceKind.DIRECTORY) {
      DirectoryFile file =
          new LdapDirectory(source, password.orElseGet(() -> keptPassword(source)))
              .read(MOST_SHOWN, progress);
      List<String> lines = new ArrayList<>();
      file.people().forEach(person -> lines.add(SourcePreview.line(person)));
      lines.addAll(file.leftOut());
      return lines;
    }
    if (kind == SourceKind.EDITIONS) {
      return new EditionIndex(web, access(source, password), company, json)
          .listed(source, progress).stream()
              .limit(MOST_SHOWN)
              .map(one -> "edition " + one.number() + ", " + one.file())
              .toList();
    }
    if (kind == SourceKind.RESOLVER) {
      NameResolver resolver = new NameResolver(source.address());
      return hostNames.asked().stream()
          .limit(MOST_SHOWN)
          .map(host -> SourcePreview.line(host, resolver.ask(host, progress)))
          .toList();
    }
    Brought brought = page(source, password, Mark.NONE, progress).orElseThrow();
    return brought.records().values().stream()
        .flatMap(List::stream)
        .flatMap(doc -> SourcePreview.lines(doc).stream())
        .limit(MOST_SHOWN)
        .toList();
  }

  private Optional<Brought> read(
      SourceDoc source, SourceState state, Map<String, Resolved> resolved, Progress progress) {
    Mark known = state.waiting() > 0 ? Mark.NONE : state.mark();
    return switch (SourceKind.ofWord(source.kind()).orElseThrow()) {
      case DIRECTORY -> {
        DirectoryFile file =
            new LdapDirectory(source, keptPassword(source))
                .read(LdapDirectory.MOST_ENTRIES, progress);
        demandAny(file.people().isEmpty(), "nobody was found in it");
        yield Optional.of(
            Brought.of(
                Map.of(
                    WorkspaceKind.GROUP, List.copyOf(file.groups()),
                    WorkspaceKind.PERSON, List.copyOf(file.people())),
                file.leftOut(),
                Mark.NONE));
      }
      case EDITIONS ->
          new EditionIndex(web, access(source, Optional.empty()), company, json)
              .read(source, known, progress);
      case RESOLVER -> Optional.of(resolve(source, state, resolved, progress));
      case GEOFEED, ADDRESS_LIST, SITES -> page(source, Optional.empty(), known, progress);
    };
  }

  private WebFeed.Access access(SourceDoc source, Optional<String> password) {
    return source.feed() == null
        ? WebFeed.Access.ANYBODY
        : new WebFeed.Access(
            URI.create(source.address()),
            source.feed().login(),
            password.orElseGet(() -> keptPassword(source)),
            source.feed().certificates());
  }

  private Optional<Brought> page(
      SourceDoc source, Optional<String> password, Mark known, Progress progress) {
    progress.begin("reading " + source.address(), 0);
    Optional<WebFeed.Page> page =
        web.read(URI.create(source.address()), access(source, password), known, progress);
    if (page.isEmpty()) {
      return Optional.empty();
    }
    String text = page.get().text();
    Map<WorkspaceKind, List<Object>> records = new EnumMap<>(WorkspaceKind.class);
    String file = "feed";
    List<String> out = new ArrayList<>();
    long[] wrong = new long[1];
    Consumer<FaultException> leftOut =
        fault -> {
          if (++wrong[0] <= MOST_LEFT_OUT) {
            out.add(fault.getMessage());
          }
        };
    switch (SourceKind.ofWord(source.kind()).orElseThrow()) {
      case GEOFEED -> {
        List<Object> countries = new ArrayList<>();
        AtlasFiles.geofeed(file, text, leftOut)
            .forEach((code, networks) -> countries.add(new CountryDoc(code, networks)));
        records.put(WorkspaceKind.COUNTRY, countries);
      }
      case ADDRESS_LIST -> {
        List<String> addresses = AtlasFiles.addresses(file, text, leftOut);
        demandAny(addresses.isEmpty(), "there is no address in it");
        records.put(
            WorkspaceKind.ADDRESS_LIST, List.of(new AddressListDoc(source.into(), addresses)));
      }
      default -> {
        AtlasFiles.demandNoPage(file, text);
        records.put(WorkspaceKind.SITE, List.copyOf(AtlasFiles.sites(file, text, leftOut)));
      }
    }
    if (wrong[0] > MOST_LEFT_OUT) {
      out.add("and " + (wrong[0] - MOST_LEFT_OUT) + " lines more");
    }
    demandAny(records.values().stream().allMatch(List::isEmpty), "there is nothing in it");
    return Optional.of(Brought.of(records, out, page.get().mark()));
  }

  /** A source that has nothing at all any more is rather one that broke. */
  private static void demandAny(boolean isEmpty, String why) {
    if (isEmpty) {
      throw new SourceException(why);
    }
  }

  /** Asks for the names whose time is over; the others stay as they are. */
  private Brought resolve(
      SourceDoc source, SourceState state, Map<String, Resolved> resolved, Progress progress) {
    NameResolver resolver = new NameResolver(source.address());
    Instant now = clock.instant();
    WorkspaceContents contents = company.newest().contents();
    List<Object> hosts = new ArrayList<>();
    List<String> out = new ArrayList<>();
    Set<String> names = hostNames.asked();
    progress.begin("resolving host names", names.size());
    for (String host : names) {
      Optional<HostDoc> known = contents.record(WorkspaceKind.HOST, host).map(HostDoc.class::cast);
      Resolved last = state.resolved().get(host);
      if (last != null
          && known.isPresent()
          && now.isBefore(last.at().plusSeconds(last.seconds()))) {
        resolved.put(host, last);
        hosts.add(known.get());
      } else {
        NameResolver.Answer answer = resolver.ask(host, progress);
        resolved.put(host, new Resolved(now, answer.seconds(), answer.problem()));
        if (answer.isKnown()) {
          hosts.add(new HostDoc(host, answer.addresses()));
        } else {
          out.add(host + ": " + answer.problem() + "; what was known of it stays");
          known.ifPresent(hosts::add);
        }
      }
      progress.oneMore();
    }
    return Brought.of(Map.of(WorkspaceKind.HOST, hosts), out, Mark.NONE);
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
