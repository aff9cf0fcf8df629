package ironsieve.server.demo;

import io.quarkus.runtime.StartupEvent;
import ironsieve.compile.CompiledRulebase;
import ironsieve.files.Contents;
import ironsieve.files.FaultException;
import ironsieve.generated.GeneratedRulebase;
import ironsieve.generated.GeneratedTape;
import ironsieve.model.Tape;
import ironsieve.recorded.TapeColumns;
import ironsieve.server.edit.Author;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.TapeEditor;
import ironsieve.server.edit.WarmUp;
import ironsieve.server.jobs.Jobs;
import ironsieve.server.releases.Deliveries;
import ironsieve.server.releases.Releases;
import ironsieve.server.releases.Stops;
import ironsieve.server.store.Company;
import ironsieve.server.store.CompanyLoader;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;

/** Puts the demo company into a database without rulebases, when the server starts. */
@ApplicationScoped
public class DemoLoader {

  private static final Logger LOG = Logger.getLogger("ironsieve");
  private static final long SEED = 7;

  @ConfigProperty(name = "iron-sieve.generated")
  Optional<Integer> generated;

  /** What a server begins with: {@code demo}, or {@code ask} to let the first person choose. */
  @ConfigProperty(name = "iron-sieve.begin", defaultValue = "demo")
  String begin;

  /** An archive to begin with. */
  @ConfigProperty(name = "iron-sieve.archive")
  Optional<String> archive;

  @Inject CompanyLoader loader;
  @Inject Sql sql;
  @Inject RulebaseStore store;
  @Inject Company company;

  /** Whether the first edits after a start are made before somebody makes them. */
  @ConfigProperty(name = "iron-sieve.warm-up", defaultValue = "true")
  boolean warmsUp;

  /** How many of the demo's gateways run beside the server. */
  @ConfigProperty(name = "iron-sieve.gateways", defaultValue = "0")
  int gateways;

  /** Whether the demo was loaded at this start. */
  private boolean isNew;

  @Inject Releases releases;
  @Inject Editor editor;
  @Inject TapeEditor tapeEditor;
  @Inject WarmUp warmUp;
  @Inject Jobs jobs;
  @Inject DemoFiles files;

  void onStart(@Observes StartupEvent event) {
    if (archive.isPresent()) {
      restoreIfEmpty(Path.of(archive.get()));
    } else if (begin.equals("demo")) {
      isNew = loadIfEmpty();
    }
    generated.filter(size -> size > 0).ifPresent(this::generate);
    // Ready means ready to answer; the first review is made behind, before anybody asks for it.
    if (warmsUp) {
      Thread thread = new Thread(this::warmUpAll, "warm-up");
      thread.setDaemon(true);
      thread.setPriority(Thread.MIN_PRIORITY);
      thread.start();
    }
  }

  private void warmUpAll() {
    for (RulebaseStore.Head head : heads()) {
      jobs.run(
          Jobs.Kind.WARM_UP,
          "warm-up of " + head.name(),
          progress -> {
            editor.snapshot(head.id()).review();
            // What somebody else has brought in is released by them alone.
            if (isNew && gateways > 0) {
              release(head.id());
            }
            warmUp.of(head.id());
          });
    }
  }

  /**
   * Releases a rulebase as it is, unless that was done before, so that its gateway has a beginning.
   */
  private void release(String rulebase) {
    Releases.Preview preview = releases.preview(rulebase, List.of());
    if (preview.newest() > 0) {
      return;
    }
    Map<String, String> reasons =
        preview.stops().stream()
            .collect(Collectors.toMap(Stops.Stop::id, stop -> "it was so when it was taken over"));
    releases.make(
        rulebase,
        new Releases.Wanted(preview.snapshot().revision(), 0, List.of()),
        new Releases.Words("As it was taken over", "", "", reasons),
        Deliveries.Order.AT_ONCE,
        new Author("the demo", ""));
  }

  private List<RulebaseStore.Head> heads() {
    try {
      return store.heads();
    } catch (RuntimeException e) {
      LOG.debug("There is nothing to warm up.", e);
      return List.of();
    }
  }

  /** Adds a generated rulebase of this size unless it is there. */
  public void generate(int size) {
    if (store.state("generated-" + size).isEmpty()) {
      Contents contents = GeneratedRulebase.of(size, SEED, company.environment());
      CompiledRulebase compiled = CompiledRulebase.of(contents.rulebase(), company.environment());
      Tape tape = GeneratedTape.of(compiled, SEED);
      sql.inTransaction(
          tx -> {
            store.create(tx, contents);
            return size;
          });
      tapeEditor.record(
          contents.id(), "four weeks", blocks -> TapeColumns.of(tape, blocks), "the generator");
      LOG.infof("A rulebase of %d generated rules is loaded.", size);
    }
  }

  /**
   * Loads the demo company unless a rulebase, or anything it could be read against, is there;
   * whether it was loaded.
   */
  public boolean loadIfEmpty() {
    boolean isLoaded = loader.loadIfEmpty(files.folder(), "the demo");
    if (isLoaded) {
      LOG.info("The demo company is loaded.");
    }
    return isLoaded;
  }

  private void restoreIfEmpty(Path file) {
    if (loader.isBegun()) {
      LOG.warnf("%s is not restored: something is here already.", file);
      return;
    }
    try (InputStream in = Files.newInputStream(file)) {
      loader.restore(in, "the archive");
      LOG.infof("%s is restored.", file);
    } catch (FaultException e) {
      LOG.errorf("%s is not restored. %s", file, e.getMessage());
    } catch (IOException e) {
      LOG.errorf("%s cannot be read: %s", file, e.getMessage());
    }
  }
}
