package ironsieve.server.sources;

import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceKind;
import ironsieve.model.Field;
import ironsieve.model.NamedSet;
import ironsieve.model.Rule;
import ironsieve.model.Rulebase;
import ironsieve.model.Value;
import ironsieve.server.edit.Editor;
import ironsieve.server.store.Company;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.inject.Inject;
import java.util.Collection;
import java.util.Set;
import java.util.TreeSet;

/** The host names whose addresses somebody needs: those of rules and sets, and those kept. */
@ApplicationScoped
class HostNames {

  @Inject Editor editor;
  @Inject Company company;

  /** All of them, in order. */
  Set<String> namesInUse() {
    Company.WorkspaceVersion known = company.newest();
    Set<String> names = new TreeSet<>(known.contents().records(WorkspaceKind.HOST).keySet());
    known.environment().sets().forEach(set -> collect(set.values(), names));
    for (String id : editor.rulebases()) {
      try {
        collect(editor.snapshot(id).contents().rulebase(), names);
      } catch (FaultException e) {
        // A rulebase that cannot be read is told elsewhere, and asks for nothing.
      }
    }
    return names;
  }

  private static void collect(Rulebase rulebase, Set<String> names) {
    for (Rule rule : rulebase.rules()) {
      for (Field field : rule.match().fields().values()) {
        collect(field.values(), names);
      }
    }
    for (NamedSet set : rulebase.sets()) {
      collect(set.values(), names);
    }
  }

  private static void collect(Collection<Value> values, Set<String> names) {
    for (Value value : values) {
      if (value instanceof Value.HostObject host) {
        names.add(host.name());
      }
    }
  }
}
