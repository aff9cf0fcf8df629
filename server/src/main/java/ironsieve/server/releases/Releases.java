package ironsieve.server.releases;

import ironsieve.files.Delivery;
import ironsieve.files.Digests;
import ironsieve.files.FaultException;
import ironsieve.files.Manifest;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.RulebaseSnapshot;
import ironsieve.server.edit.UnknownException;
import ironsieve.server.store.CompanyLoader;
import ironsieve.server.store.Sql;
import ironsieve.text.RulebaseFile;
import ironsieve.text.RulebaseWriter;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.time.Clock;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** Makes releases and tells gateways to put them in force. */
@ApplicationScoped
public class Releases {

  private static final int LONGEST_NAME = 60;
  private static final int LONGEST_TITLE = 200;

  @Inject Editor editor;
  @Inject CompanyLoader company;
  @Inject ReleaseStore store;
  @Inject GatewayStore gateways;
  @Inject Sql sql;
  @Inject Clock clock;

  /**
   * What somebody says of a release.
   *
   * @param reference a change reference; may be empty
   */
  public record Words(String title, String reference, String note) {}

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
   * Makes a release of a revision, which has to be the newest, and tells it to all gateways of the
   * rulebase.
   *
   * @throws FaultException if the rulebase cannot be read as a whole or is newer than that
   */
  public Release make(String rulebase, long revision, Words words, Author author) {
    if (words.title() == null || words.title().isBlank()) {
      throw new FaultException("release", "title", "say in a few words what the release is for");
    }
    if (words.title().length() > LONGEST_TITLE) {
      throw new FaultException(
          "release", "title", "a title has at most " + LONGEST_TITLE + " characters");
    }
    RulebaseSnapshot snapshot = editor.snapshot(rulebase);
    if (snapshot.state().revision() != revision) {
      throw new FaultException(
          "release",
          "revision",
          "the rulebase is at revision " + snapshot.state().revision() + "; look at it again");
    }
    if (!snapshot.faults().isEmpty()) {
      throw new FaultException(
          "release", "", "records of the rulebase cannot be read; repair or remove them first");
    }
    Map<String, String> texts = new TreeMap<>(company.surroundings());
    texts.put(
        Manifest.RULEBASE, RulebaseWriter.write(RulebaseFile.of(snapshot.compiled().rulebase())));
    String key = store.keys().privateKey();
    return sql.inTransaction(
        tx -> {
          int number = store.nextNumber(tx, rulebase);
          String manifest =
              Manifest.of(rulebase, number, revision, LocalDate.now(clock).toString(), texts)
                  .text();
          Release release =
              new Release(
                  rulebase,
                  number,
                  revision,
                  words.title().strip(),
                  Optional.ofNullable(words.reference()).orElse("").strip(),
                  Optional.ofNullable(words.note()).orElse("").strip(),
                  author.name(),
                  clock.instant(),
                  manifest,
                  Digests.sign(manifest, key));
          store.keep(tx, release, texts.values());
          tell(tx, release);
          return release;
        });
  }

  /** Tells all gateways of a rulebase to put one of its releases in force, an older one too. */
  public Release deliver(String rulebase, int number) {
    Release release = demand(rulebase, number);
    sql.inTransaction(
        tx -> {
          tell(tx, release);
          return true;
        });
    return release;
  }

  private void tell(Sql.Transaction tx, Release release) throws java.sql.SQLException {
    for (Gateway one : gateways.of(tx, release.rulebase())) {
      int newest = Math.max(one.wanted().orElse(0), one.inForce().orElse(0));
      gateways.tell(tx, one.name(), release.number(), release.number() < newest);
    }
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

  /** Takes a gateway out. */
  public void remove(String name) {
    if (!gateways.remove(name)) {
      throw UnknownException.of(
          "gateway", name, gateways.all().stream().map(Gateway::name).toList());
    }
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

  /** Keeps that a gateway was heard of. */
  public void heard(Gateway gateway) {
    gateways.heard(gateway.name());
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
  }
}
