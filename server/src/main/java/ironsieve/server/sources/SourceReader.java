package ironsieve.server.sources;

import com.fasterxml.jackson.databind.ObjectMapper;
import ironsieve.files.AtlasFiles;
import ironsieve.files.DirectoryFile;
import ironsieve.files.Documents.AddressListDoc;
import ironsieve.files.Documents.CountryDoc;
import ironsieve.files.Documents.HostDoc;
import ironsieve.files.Documents.SourceDoc;
import ironsieve.files.FaultException;
import ironsieve.files.SourceKind;
import ironsieve.files.WorkspaceContents;
import ironsieve.files.WorkspaceKind;
import ironsieve.progress.Progress;
import ironsieve.server.edit.RecordChecks;
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
import java.util.function.Consumer;

/** Reads what sources of every kind have; nothing is kept here. */
@ApplicationScoped
class SourceReader {

  private static final int MOST_SHOWN = 10;

  /** Of so many lines that are left out is said why; the others are counted. */
  private static final int MOST_LEFT_OUT = 100;

  @Inject Company company;
  @Inject SourcePasswords passwords;
  @Inject HostNames hostNames;
  @Inject ObjectMapper json;
  @Inject Clock clock;

  private final WebFeed web = new WebFeed();

  /**
   * The first of what a source has, in a line each; nothing is kept.
   *
   * @param source as it may be set up
   * @param password nothing for the one that is kept under its name
   * @throws FaultException if it is set up wrong
   * @throws SourceException if it cannot be read
   */
  List<String> first(SourceDoc source, Optional<String> password, Progress progress) {
    RecordChecks.demandReadable(source);
    SourceKind kind = SourceKind.ofWord(source.kind()).orElseThrow();
    if (kind == SourceKind.DIRECTORY) {
      DirectoryFile file =
          new LdapDirectory(source, password.orElseGet(() -> passwords.of(source)))
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
      return hostNames.namesInUse().stream()
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

  /**
   * What a source has now; nothing where that is the same as before.
   *
   * @param resolved takes what is known of each host name
   */
  Optional<Brought> read(
      SourceDoc source, SourceState state, Map<String, Resolved> resolved, Progress progress) {
    Mark known = state.waiting() > 0 ? Mark.NONE : state.mark();
    return switch (SourceKind.ofWord(source.kind()).orElseThrow()) {
      case DIRECTORY -> {
        DirectoryFile file =
            new LdapDirectory(source, passwords.of(source))
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
            password.orElseGet(() -> passwords.of(source)),
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
    Set<String> names = hostNames.namesInUse();
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
}
