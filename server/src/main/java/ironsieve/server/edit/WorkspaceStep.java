package ironsieve.server.edit;

import com.fasterxml.jackson.databind.JsonNode;
import ironsieve.files.FaultException;
import ironsieve.files.WorkspaceKind;
import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.eclipse.microprofile.openapi.annotations.media.Schema;

/** One step of a change of the workspace. */
@Schema(
    discriminatorProperty = "op",
    oneOf = {
      WorkspaceStep.Put.class,
      WorkspaceStep.Remove.class,
      WorkspaceStep.Rename.class,
      WorkspaceStep.MergeSets.class,
      WorkspaceStep.LoadDirectory.class
    })
public sealed interface WorkspaceStep extends Step {

  /** Does something for each kind of step; the compiler finds whoever forgets one. */
  interface Visitor {
    void put(Put step);

    void remove(Remove step);

    void rename(Rename step);

    void mergeSets(MergeSets step);

    void loadDirectory(LoadDirectory step);
  }

  /** Has a visitor do what it does for steps of this kind. */
  void accept(Visitor visitor);

  /**
   * Puts a record in the place of the one with its id, or adds it.
   *
   * @param kind the word of a {@link WorkspaceKind}
   * @param doc the record, in the form of its kind
   */
  @Schema(requiredProperties = {"kind", "doc"})
  record Put(String kind, @Schema(implementation = Object.class) JsonNode doc)
      implements WorkspaceStep {

    public Put {
      demandKind(kind);
      if (doc == null || !doc.isObject()) {
        throw new FaultException("step PUT", "doc", "a record is an object");
      }
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.put(this);
    }
  }

  /** Takes a record out. */
  @Schema(requiredProperties = {"kind", "id"})
  record Remove(String kind, String id) implements WorkspaceStep {

    public Remove {
      demandKind(kind);
      demandId("step REMOVE", "id", id);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.remove(this);
    }
  }

  /** Gives a record another name, here and in everything of the workspace that names it. */
  @Schema(requiredProperties = {"kind", "id", "name"})
  record Rename(String kind, String id, String name) implements WorkspaceStep {

    public Rename {
      demandKind(kind);
      demandId("step RENAME", "id", id);
      demandId("step RENAME", "name", name);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.rename(this);
    }
  }

  /**
   * Puts what one shared set holds into another of its kind, which everything that named the first
   * names from then on.
   *
   * @param id the set that goes, such as {@code network:Print servers}
   * @param into the name of the set that stays
   */
  @Schema(requiredProperties = {"id", "into"})
  record MergeSets(String id, String into) implements WorkspaceStep {

    public MergeSets {
      demandId("step MERGE_SETS", "id", id);
      demandId("step MERGE_SETS", "into", into);
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.mergeSets(this);
    }
  }

  /**
   * Puts all people and groups of a file in the place of those with their names.
   *
   * @param format {@code csv} or {@code ldif}
   * @param people the file; as LDIF with the groups in it
   * @param groups the groups as CSV; may be missing
   * @param others what becomes of those the file does not name: {@code keep} or {@code remove}
   * @param columns what columns of the CSV hold, by their headings; the others are taken by theirs
   */
  @Schema(requiredProperties = {"format", "people"})
  record LoadDirectory(
      String format, String people, String groups, String others, Map<String, String> columns)
      implements WorkspaceStep {

    public LoadDirectory {
      if (!"csv".equals(format) && !"ldif".equals(format)) {
        throw new FaultException("directory", "format", "formats are csv and ldif");
      }
      demandId("directory", "people", people);
      groups = groups == null ? "" : groups;
      others = others == null ? "keep" : others;
      columns = columns == null ? new TreeMap<>() : new TreeMap<>(columns);
      if (!others.equals("keep") && !others.equals("remove")) {
        throw new FaultException(
            "directory",
            "others",
            "people the file does not name are kept or removed: keep, remove");
      }
      if (columns.containsValue(null)) {
        throw new FaultException("directory", "columns", "a column holds something, not null");
      }
    }

    @Override
    public void accept(Visitor visitor) {
      visitor.loadDirectory(this);
    }
  }

  private static void demandKind(String kind) {
    if (kind == null || WorkspaceKind.ofWord(kind).isEmpty()) {
      throw new FaultException(
          "step",
          "kind",
          "kinds are "
              + Arrays.stream(WorkspaceKind.values())
                  .map(WorkspaceKind::word)
                  .collect(Collectors.joining(", ")));
    }
  }

  private static void demandId(String place, String field, String id) {
    if (id == null || id.isBlank()) {
      throw new FaultException(place, field, "this is missing");
    }
  }
}
