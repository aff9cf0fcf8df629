package ironsieve.server.demo;

import io.quarkus.runtime.StartupEvent;
import ironsieve.compile.CompiledRulebase;
import ironsieve.files.CompanyFolder;
import ironsieve.files.Contents;
import ironsieve.files.TapeCsv;
import ironsieve.files.WorkspaceContents;
import ironsieve.server.edit.Editor;
import ironsieve.server.edit.WarmUp;
import ironsieve.server.store.Company;
import ironsieve.server.store.RulebaseStore;
import ironsieve.server.store.Sql;
import ironsieve.server.store.TapeStore;
import ironsieve.server.store.WorkspaceStore;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import jakarta.inject.Inject;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.microprofile.config.inject.ConfigProperty;
import org.jboss.logging.Logger;

/** Puts the demo company into a database without rulebases, when the server starts. */
@ApplicationScoped
public class DemoLoader {

  private static final Logger LOG = Logger.getLogger("ironsieve");
  // Any number, so long as every server that starts on one database uses the same.
  private static final long START_LOCK = 7340;

  private static final long SEED = 7;

  @ConfigProperty(name = "iron-sieve.generated")
  Optional<Integer> generated;

  /** What a server begins with: {@code demo}, or {@code ask} to let the first person choose. */
  @ConfigProperty(name = "iron-sieve.begin", defaultValue = "demo")
  String begin;

  @Inject Sql sql;
  @Inject RulebaseStore store;
  @Inject TapeStore tapes;
  @Inject Company company;
  @Inject WorkspaceStore workspace;
  @Inject Editor editor;
  @Inject WarmUp warmUp;
  @Inject DemoFiles files;

  void onStart(@Observes StartupEvent event) {
    if (begin.equals("demo")) {
      loadIfEmpty();
    }
    generated.filter(size -> size > 0).ifPresent(this::generate);
    // Ready means ready to answer; the first review is made behind, before anybody asks for it.
    Thread rehearsing = new Thread(this::rehearse, "rehearsal");
    rehearsing.setDaemon(true);
    rehearsing.setPriority(Thread.MIN_PRIORITY);
    rehearsing.start();
  }

  private void rehearse() {
    for (RulebaseStore.Head head : heads()) {
      try {
        editor.snapshot(head.id()).review();
        warmUp.of(head.id());
      } catch (RuntimeException e) {
        // It is of no use to a server that is being stopped, and nothing depends on it.
        LOG.debugf(e, "The rehearsal of %s ended early.", head.id());
      }
    }
  }

  private List<RulebaseStore.Head> heads() {
    try {
      return store.heads();
    } catch (RuntimeException e) {
      LOG.debug("There is nothing to rehearse.", e);
      return List.of();
    }
  }

  /** Adds a generated rulebase of this size unless it is there. */
  public void generate(int size) {
    if (store.state("generated-" + size).isEmpty()) {
      Contents contents = GeneratedRulebase.of(size, SEED, company.environment());
      CompiledRulebase compiled = CompiledRulebase.of(contents.rulebase(), company.environment());
      String tape = TapeCsv.write(GeneratedTape.of(compiled, SEED));
      sql.inTransaction(
          tx -> {
            store.create(tx, contents);
            tapes.keep(tx, contents.id(), "four weeks", "the generator", tape);
            return size;
          });
      LOG.infof("A rulebase of %d generated rules is loaded.", size);
    }
  }

  /**
   * Loads the demo company unless there already is a rulebase or anything it could be read against.
   */
  public void loadIfEmpty() {
    boolean loaded =
        sql.inTransaction(
            tx -> {
              tx.row("select pg_advisory_xact_lock(?)", row -> true, START_LOCK);
              boolean empty = !isBegun(tx);
              if (empty) {
                company.lockForChange(tx);
                load(tx);
                company.changed(tx);
              }
              return empty;
            });
    if (loaded) {
      LOG.info("The demo company is loaded.");
    }
  }

  /** Whether there is a rulebase, or anything it could be read against. */
  public static boolean isBegun(Sql.Transaction tx) throws SQLException {
    return tx.row(
            "select exists (select from rulebase) or exists (select from workspace_record)",
            row -> row.getBoolean(1))
        .orElseThrow();
  }

  private void load(Sql.Transaction tx) throws SQLException {
    CompanyFolder folder = files.folder();
    CompanyFolder.CompanyFile file = folder.company();
    for (int edition : file.editions()) {
      company.keepEdition(tx, edition, folder.applications(edition));
    }
    workspace.write(tx, workspace.between(WorkspaceContents.empty(), folder.workspace()));
    for (String rulebase : file.rulebases()) {
      store.create(tx, files.rulebase(rulebase));
      for (Map.Entry<String, String> tape : folder.tapes(rulebase).entrySet()) {
        tapes.keep(tx, rulebase, tape.getKey(), "the demo", tape.getValue());
      }
    }
  }
}
