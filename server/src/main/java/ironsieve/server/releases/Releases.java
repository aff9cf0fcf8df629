package ironsieve.server.releases;

import ironsieve.files.Delivery;
import ironsieve.files.Digests;
import ironsieve.files.Fault;
import ironsieve.files.FaultException;
import ironsieve.files.Manifest;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.jobs.FutureCache;
import ironsieve.server.store.CompanyLoader;
import ironsieve.server.store.JournalEntry;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import ironsieve.server.store.State;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseWriter;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Makes releases and tells gateways to put them in force. */
@ApplicationScoped
public class Releases {

  private static final int LONGEST_NAME = 60;
  private static final int LONGEST_TITLE = 200;
  private static final int MOST_PORTS = 200;
  private static final int LONGEST_REASON = 1_000;

  /** The workspace may change each time that it is read. */
  private static final int MOST_TRIES = 5;

  @Inject Editor editor;
  @Inject CompanyLoader company;
  @Inject ReleaseStore store;
  @Inject GatewayStore gateways;
  @Inject Deliveries deliveries;
  @Inject RulebaseStore rulebases;
  @Inject ReleasedRulebases released;
  @Inject Sql sql;
  @Inject Clock clock;

  /** The digests of the surroundings' files, by the version of the workspace. */
  private final FutureCache<Long, Map<String, String>> digests = FutureCache.ofCount(2);

  /**
   * What somebody says of a release.
   *
   * @param reference a change reference; may be empty
   * @param reasons why what stands against it is overridden, by the ids of {@link Stops.Stop}
   */
  public record Words(String title, String reference, String note, Map<String, String> reasons) {}

  /**
   * What is asked to be released.
   *
   * @param revision has to be the newest
   * @param after the number of the newest release that the asker knows of; 0 for none
   * @param leftOut revisions since what was released last whose edits are not to be in it
   */
  public record Wanted(long revision, int after, List<Long> leftOut) {}

  /**
   * What a release would do.
   *
   * @param snapshot what would be released
   * @param newest the number of the newest release; 0 for none
   * @param open the edits that no release has in it, the oldest first, left out or not
   * @param beside what gateways decide by now, with their names; the newest release where there is
   *     no gateway
   * @param stops what stands against it and was not overridden for the newest release
   * @param overrides what stands against it and was
   */
  public record Preview(
      RulebaseSnapshot snapshot,
      int newest,
      List<JournalEntry> open,
      List<Beside> beside,
      List<Stops.Stop> stops,
      List<Release.Override> overrides) {}

  /**
   * What some gateways decide by.
   *
   * @param compared nothing where nothing is in force yet
   */
  public record Beside(Optional<Compared> compared, List<String> gateways) {}

  /**
   * A release beside what it is compared with.
   *
   * @param snapshot what the release says
   */
  public record Compared(
      Release release, RulebaseSnapshot snapshot, DraftDifferences differences) {}

  /** The releases of a rulebase, the newest first. */
  public List<Release> of(String rulebase) {
    editor.snapshot(rulebase);
    return store.of(rulebase);
  }

  /** All gateways, by name. */
  public List<Gateway> gateways() {
    return gateways.all();
  }

  /**
   * What a release of the newest revision would do; nothing is written.
   *
   * @throws FaultException if an edit that is to be left out is none of the open ones, or others
   *     build on it
   */
  public Preview preview(String rulebase, List<Long> leftOut) {
    Draft now = draft(rulebase);
    RulebaseSnapshot draft = now.snapshot();
    Optional<Release> newest = newest(rulebase);
    List<JournalEntry> open = open(rulebase, newest, draft.revision());
    for (long revision : leftOut) {
      if (open.stream().noneMatch(entry -> entry.revision() == revision)) {
        throw new FaultException(
            "release", "leftOut", "revision " + revision + " is none of the open changes");
      }
    }
    RulebaseSnapshot snapshot = editor.without(draft, leftOut);
    List<Release.Override> known = newest.map(Release::overrides).orElse(List.of());
    Map<String, Release.Override> before = new LinkedHashMap<>();
    known.forEach(one -> before.put(one.stop(), one));
    List<Stops.Stop> stops = Stops.of(snapshot);
    return new Preview(
        snapshot,
        newest.map(Release::number).orElse(0),
        open,
        beside(snapshot, now.digests(), newest),
        stops.stream().filter(stop -> !before.containsKey(stop.id())).toList(),
        stops.stream()
            .filter(stop -> before.containsKey(stop.id()))
            .map(
                stop ->
                    new Release.Override(stop.id(), stop.words(), before.get(stop.id()).reason()))
            .toList());
  }

  private Optional<Release> newest(String rulebase) {
    return sql.inTransaction(tx -> store.newest(tx, rulebase));
  }

  /** The edits that the newest release does not have in it. */
  private List<JournalEntry> open(String rulebase, Optional<Release> newest, long revision) {
    List<JournalEntry> open = new ArrayList<>();
    if (newest.isPresent()) {
      List<Long> leftOut = newest.get().leftOut();
      long from = leftOut.stream().mapToLong(Long::longValue).min().orElse(newest.get().revision());
      sql.inTransaction(tx -> rulebases.journalBetween(tx, rulebase, from - 1, revision)).stream()
          .filter(
              entry ->
                  entry.revision() > newest.get().revision() || leftOut.contains(entry.revision()))
          .forEach(open::add);
    }
    return open;
  }

  /**
   * What gateways decide by, beside what may follow it.
   *
   * @param digests of the files that the surroundings of {@code next} are, by name
   */
  private List<Beside> beside(
      RulebaseSnapshot next, Map<String, String> digests, Optional<Release> newest) {
    String rulebase = next.contents().id();
    Map<Integer, List<String>> byRelease = new TreeMap<>();
    gateways.all().stream()
        .filter(one -> one.rulebase().equals(rulebase))
        .forEach(
            one ->
                byRelease
                    .computeIfAbsent(one.inForce().orElse(0), number -> new ArrayList<>())
                    .add(one.name()));
    if (byRelease.isEmpty() && newest.isPresent()) {
      byRelease.put(newest.get().number(), List.of());
    }
    return byRelease.entrySet().stream()
        .map(
            entry ->
                new Beside(
                    store
                        .release(rulebase, entry.getKey())
                        .map(release -> compared(release, next, digests)),
                    entry.getValue()))
        .toList();
  }

  private Compared compared(Release release, RulebaseSnapshot next, Map<String, String> digests) {
    RulebaseSnapshot snapshot = released.of(release, next, digests);
    return new Compared(
        release,
        snapshot,
        DraftDifferences.of(
            snapshot.contents(),
            next.contents(),
            ReleasedRulebases.surroundings(release),
            digests));
  }

  /**
   * What is in force of a rulebase.
   *
   * @param draft the revision that it is compared with
   * @param gateways those that decide by it; none where there is no gateway
   * @param others those that decide by something else
   */
  public record InForce(
      long draft, Compared compared, List<String> gateways, List<String> others) {}

  /**
   * The newest release that a gateway of a rulebase decides by, as it said last, and how the draft
   * differs from it; the newest release where there is no gateway, and nothing where there is none.
   */
  public Optional<InForce> inForce(String rulebase) {
    Draft now = draft(rulebase);
    RulebaseSnapshot draft = now.snapshot();
    List<Beside> beside = beside(draft, now.digests(), newest(rulebase));
    return beside.stream()
        .filter(one -> one.compared().isPresent())
        .reduce((one, other) -> other)
        .map(
            one ->
                new InForce(
                    draft.revision(),
                    one.compared().get(),
                    one.gateways(),
                    beside.stream()
                        .filter(other -> other != one)
                        .flatMap(other -> other.gateways().stream())
                        .toList()));
  }

  /** The surroundings as gateways get them. */
  private Map<String, String> surroundings() {
    Map<String, String> texts = new TreeMap<>(company.surroundings());
    texts.remove(ReleasedRulebases.SOURCES);
    return texts;
  }

  /**
   * A draft of one moment.
   *
   * @param digests of the files that its surroundings are, by name
   */
  private record Draft(RulebaseSnapshot snapshot, Map<String, String> digests) {}

  private Draft draft(String rulebase) {
    for (int round = 0; round < MOST_TRIES; round++) {
      RulebaseSnapshot snapshot = editor.snapshot(rulebase);
      Map<String, String> digests = digests(snapshot);
      if (!digests.isEmpty()) {
        return new Draft(snapshot, digests);
      }
    }
    throw new ReleaseConflictException("the workspace changes faster than it can be read");
  }

  /** The digests of a draft's surroundings by file; none if those changed since. */
  private Map<String, String> digests(RulebaseSnapshot draft) {
    long version = draft.state().workspace();
    Map<String, String> found =
        digests.get(
            version,
            () -> {
              Map<String, String> made = new TreeMap<>();
              surroundings().forEach((path, text) -> made.put(path, Digests.of(text)));
              boolean isOfDraft =
                  rulebases
                      .state(draft.contents().id())
                      .filter(now -> now.workspace() == version)
                      .isPresent();
              return isOfDraft ? made : Map.of();
            });
    if (found.isEmpty()) {
      digests.forget(version);
    }
    return found;
  }

  /**
   * Makes a release and tells it to the gateways of the rulebase.
   *
   * @param order in which they are told
   * @throws FaultException if the rulebase cannot be read as a whole, or something stands against
   *     it that is not overridden
   * @throws ReleaseConflictException if somebody else changed or released the rulebase meanwhile
   */
  public Release make(
      String rulebase, Wanted wanted, Words words, Deliveries.Order order, Author author) {
    demand(words);
    deliveries.demand(rulebase, order);
    Preview preview = preview(rulebase, wanted.leftOut());
    RulebaseSnapshot snapshot = preview.snapshot();
    if (snapshot.revision() != wanted.revision()) {
      throw new ReleaseConflictException(
          "the rulebase is at revision " + snapshot.revision() + " by now");
    }
    if (!snapshot.faults().isEmpty()) {
      throw new FaultException(
          "release", "", "records of the rulebase cannot be read; repair or remove them first");
    }
    List<Release.Override> overrides = overrides(preview, words);
    Map<String, String> texts = surroundings();
    texts.put(
        Manifest.RULEBASE, RulebaseWriter.write(RulebaseFile.of(snapshot.compiled().rulebase())));
    String key = store.keys().privateKey();
    return sql.inTransaction(
        tx -> {
          State now = rulebases.lock(tx, rulebase).orElseThrow();
          if (now.revision() != snapshot.revision()
              || now.workspace() != snapshot.state().workspace()) {
            throw new ReleaseConflictException("somebody has changed what is released meanwhile");
          }
          Optional<Release> newest = store.newest(tx, rulebase);
          int number = newest.map(Release::number).orElse(0) + 1;
          if (number != wanted.after() + 1) {
            throw new ReleaseConflictException(
                newest
                    .map(
                        one ->
                            one.who()
                                + " made release "
                                + one.number()
                                + ", \""
                                + one.title()
                                + "\", meanwhile")
                    .orElse("there is no release yet"));
          }
          String manifest =
              Manifest.of(
                      rulebase, number, wanted.revision(), LocalDate.now(clock).toString(), texts)
                  .text();
          Release release =
              new Release(
                  rulebase,
                  number,
                  wanted.revision(),
                  wanted.leftOut().stream().distinct().sorted().toList(),
                  words.title().strip(),
                  Optional.ofNullable(words.reference()).orElse("").strip(),
                  Optional.ofNullable(words.note()).orElse("").strip(),
                  overrides,
                  author.name(),
                  clock.instant(),
                  manifest,
                  Digests.sign(manifest, key));
          store.keep(tx, release, texts.values());
          deliveries.begin(tx, release, order, author.name());
          return release;
        });
  }

  private static void demand(Words words) {
    if (words.title() == null || words.title().isBlank()) {
      throw new FaultException("release", "title", "say in a few words what the release is for");
    }
    if (words.title().length() > LONGEST_TITLE) {
      throw new FaultException(
          "release", "title", "a title has at most " + LONGEST_TITLE + " characters");
    }
    words
        .reasons()
        .forEach(
            (stop, reason) -> {
              if (reason != null && reason.length() > LONGEST_REASON) {
                throw new FaultException(
                    "release", stop, "a reason has at most " + LONGEST_REASON + " characters");
              }
            });
  }

  /** What is overridden, now and before; whatever else stands against it stops it. */
  private static List<Release.Override> overrides(Preview preview, Words words) {
    List<Release.Override> overrides = new ArrayList<>(preview.overrides());
    List<Fault> faults = new ArrayList<>();
    for (Stops.Stop stop : preview.stops()) {
      String reason = Optional.ofNullable(words.reasons().get(stop.id())).orElse("").strip();
      if (reason.isEmpty()) {
        faults.add(
            new Fault(
                "release", stop.id(), stop.words() + "; mend it, or say why it is released so"));
      }
      overrides.add(new Release.Override(stop.id(), stop.words(), reason));
    }
    if (!faults.isEmpty()) {
      throw new FaultException(faults);
    }
    return overrides;
  }

  /** What a release would do that was made already, as {@link #deliver} would put it in force. */
  public Preview preview(String rulebase, int number) {
    Release release = demand(rulebase, number);
    Draft draft = draft(rulebase);
    RulebaseSnapshot snapshot = released.of(release, draft.snapshot(), draft.digests());
    return new Preview(
        snapshot,
        number,
        List.of(),
        beside(snapshot, ReleasedRulebases.surroundings(release), Optional.of(release)),
        List.of(),
        release.overrides());
  }

  /** Tells the gateways of a rulebase to put one of its releases in force, an older one too. */
  public Release deliver(String rulebase, int number, Deliveries.Order order, Author author) {
    Release release = demand(rulebase, number);
    deliveries.demand(rulebase, order);
    sql.inTransaction(
        tx -> {
          store.lock(tx, rulebase);
          deliveries.begin(tx, release, order, author.name());
          return true;
        });
    return release;
  }

  private Release demand(String rulebase, int number) {
    return store
        .release(rulebase, number)
        .orElseThrow(
            () ->
                UnknownException.of(
                    "release",
                    String.valueOf(number),
                    store.of(rulebase).stream().map(one -> String.valueOf(one.number())).toList()));
  }

  /**
   * Makes a gateway, or lets one enrol anew.
   *
   * @throws FaultException if one of this name reads another rulebase
   * @return its code, which nobody can read again
   */
  public String invite(String name, String rulebase) {
    FaultException.demandName("gateway", "name", name, LONGEST_NAME);
    editor.snapshot(rulebase);
    gateways
        .named(name)
        .filter(one -> !one.rulebase().equals(rulebase))
        .ifPresent(
            one -> {
              throw new FaultException(
                  "gateway",
                  "name",
                  "the gateway " + name + " reads " + one.rulebase() + "; remove it there first");
            });
    return gateways.invite(name, rulebase);
  }

  /**
   * Takes a gateway out.
   *
   * @return what it was
   */
  public Gateway remove(String name) {
    Gateway gateway = gateways.demand(name);
    gateways.remove(name);
    return gateway;
  }

  /**
   * What a gateway gets when it enrols.
   *
   * @param publicKey checks what it is told, in base64 of its X.509 form
   */
  public record Enrolment(String gateway, String key, String publicKey) {}

  /** Enrols a gateway; nothing if its code is none, or was used already. */
  public Optional<Enrolment> enrol(String code) {
    return gateways
        .enrol(code)
        .map(one -> new Enrolment(one.name(), one.key(), store.keys().publicKey()));
  }

  /** The gateway that has a key. */
  public Optional<Gateway> withKey(String key) {
    return gateways.withKey(key);
  }

  /** Keeps that a gateway was heard of, and what it takes for now. */
  public void heard(Gateway gateway, Optional<Instant> now) {
    gateways.heard(
        gateway.name(),
        now.map(its -> (int) Duration.between(clock.instant(), its).toSeconds()).orElse(0));
  }

  /**
   * Demands that no gateway reads a rulebase, for one that does would go on with what nobody sees.
   *
   * @throws FaultException naming those that do
   */
  public void demandUnread(String rulebase) {
    List<String> readers =
        gateways.all().stream()
            .filter(one -> one.rulebase().equals(rulebase))
            .map(Gateway::name)
            .toList();
    if (!readers.isEmpty()) {
      throw new FaultException(
          "rulebase " + rulebase,
          "standing",
          "it is read by the "
              + (readers.size() == 1 ? "gateway " : "gateways ")
              + String.join(", ", readers)
              + "; take them out at Releases first");
    }
  }

  /**
   * Keeps where a gateway says that clients come in.
   *
   * @throws FaultException if a port is none, or there are too many
   */
  public void keepPorts(Gateway gateway, List<Gateway.ZonePort> ports) {
    boolean isFine =
        ports.size() <= MOST_PORTS
            && ports.stream()
                .allMatch(one -> one.zone() != null && one.port() > 0 && one.port() <= 65_535);
    if (!isFine) {
      throw new FaultException(
          "ports", "", "say at most " + MOST_PORTS + " zones, each with a port up to 65535");
    }
    gateways.keepPorts(gateway.name(), ports);
  }

  /** What a gateway is told, signed. */
  public record Told(
      String delivery, String signature, String manifest, String manifestSignature) {}

  /**
   * What a gateway is told that is newer than what it was told before; nothing if there is none.
   */
  public Optional<Told> told(Gateway gateway, long after) {
    Gateway now = gateways.named(gateway.name()).orElse(gateway);
    if (now.wanted().isEmpty() || now.delivery() <= after) {
      return Optional.empty();
    }
    Release release = demand(now.rulebase(), now.wanted().get());
    String text =
        new Delivery(
                now.name(),
                now.delivery(),
                release.number(),
                Digests.of(release.manifest()),
                now.isBack())
            .text();
    return Optional.of(
        new Told(
            text,
            Digests.sign(text, store.keys().privateKey()),
            release.manifest(),
            release.signature()));
  }

  /** A part of a release. */
  public Optional<String> part(String digest) {
    return store.part(digest);
  }

  private static final List<String> STATES = List.of("fetched", "checked", "in force", "failed");

  /** What a gateway says of what it was told. */
  public void say(
      Gateway gateway, long delivery, String state, String why, Optional<Integer> inForce) {
    if (!STATES.contains(state)) {
      throw new FaultException("state", "state", "a state is one of " + String.join(", ", STATES));
    }
    gateways.say(gateway.name(), delivery, state, why == null ? "" : why, inForce);
    // What it says may be what the next wave waits for.
    deliveries.look();
  }
}
