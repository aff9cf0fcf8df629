package ironsieve.compile;

import ironsieve.compile.Spelling.Piece;
import ironsieve.model.Atlas;
import ironsieve.model.Value;
import ironsieve.model.Value.HostName;
import ironsieve.model.Value.HostName.Reach;
import ironsieve.region.IndexSet;
import ironsieve.region.Weights;
import ironsieve.text.ValueText;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * The atoms of host names. The names that rules and the site list mention form a tree by their
 * labels; every node of it gives two cells, the name itself and all other names below it, and there
 * is one more for connections that name no host. Cells that no value tells apart are one atom.
 *
 * <p>Shares count site categories: each category (that of uncategorised names too) and "no host
 * named" weigh 1. Within a category a single name counts 1, all names below one with n labels 10⁹,
 * 10⁶, 10³ and 10 for n = 1, 2, 3 and more, all names together 10¹².
 */
final class SiteAxis {

  private static final double ALL_NAMES = 1e12;
  private static final double[] BELOW = {ALL_NAMES, 1e9, 1e6, 1e3, 10};

  /** A node of the tree; the root has an empty name. */
  private static final class Node {
    private final String name;
    private final Map<String, Node> below = new TreeMap<>();
    private int atomOfName;
    private int atomOfRest;

    private Node(String name) {
      this.name = name;
    }

    private int labels() {
      return name.isEmpty() ? 0 : name.split("\\.").length;
    }

    private double weightBelow() {
      return BELOW[Math.min(labels(), BELOW.length - 1)];
    }
  }

  /** One cell before weights are known: what it is called, and the category it counts towards. */
  private record Cell(Node node, boolean rest, Set<Value> holders, String category, double raw) {}

  private final Map<HostName, String> categories = new HashMap<>();
  private final Node root = new Node("");
  private final Map<Value, BitSet> atomsOfValue = new HashMap<>();
  private final List<Optional<String>> samples = new ArrayList<>();
  private final int nameless;
  private final Weights weights;

  SiteAxis(Atlas atlas, Collection<Value> used) {
    used.forEach(value -> atomsOfValue.put(value, new BitSet()));
    boolean categoriesMatter = used.stream().anyMatch(Value.SiteCategory.class::isInstance);
    used.forEach(
        value -> {
          if (value instanceof HostName host) {
            node(host.name());
          }
        });
    atlas.sites().forEach(entry -> node(entry.names().name()));
    List<Cell> cells = new ArrayList<>();
    atlas.sites().forEach(entry -> categories.putIfAbsent(entry.names(), entry.category()));
    collect(root, new HashSet<>(), Atlas.UNCATEGORISED, cells);
    Map<String, Double> totals = new HashMap<>();
    cells.forEach(cell -> totals.merge(cell.category(), cell.raw(), Double::sum));
    Signatures atoms = new Signatures();
    for (Cell cell : cells) {
      Set<Value> holders = cell.holders();
      if (categoriesMatter) {
        holders.add(new Value.SiteCategory(cell.category()));
      }
      holders.retainAll(atomsOfValue.keySet());
      int atom = atoms.atom(holders, cell.raw() / totals.get(cell.category()));
      if (atom == samples.size()) {
        samples.add(Optional.of(cell.rest() ? unlisted(cell.node()) : cell.node().name));
      }
      if (cell.rest()) {
        cell.node().atomOfRest = atom;
      } else {
        cell.node().atomOfName = atom;
      }
      holders.forEach(value -> atomsOfValue.get(value).set(atom));
    }
    nameless = atoms.atom(Value.Nameless.HOST, 1);
    samples.add(Optional.empty());
    atomsOfValue.computeIfAbsent(Value.Nameless.HOST, v -> new BitSet()).set(nameless);
    weights = atoms.weights();
  }

  private Node node(String name) {
    Node node = root;
    String[] labels = name.split("\\.");
    for (int i = labels.length - 1; i >= 0; i--) {
      Node above = node;
      node =
          node.below.computeIfAbsent(
              labels[i],
              label -> new Node(above.name.isEmpty() ? label : label + "." + above.name));
    }
    return node;
  }

  /**
   * The cells of a node and all below it.
   *
   * @param above the values that hold every name below the node's parent
   * @param category of the names below the node's parent
   */
  private void collect(Node node, Set<Value> above, String category, List<Cell> cells) {
    Set<Value> inside = new HashSet<>(above);
    String ofRest = category;
    if (!node.name.isEmpty()) {
      HostName name = new HostName(node.name, Reach.EXACT);
      Set<Value> exact = new HashSet<>(above);
      exact.add(name);
      cells.add(new Cell(node, false, exact, categories.getOrDefault(name, category), 1));
      HostName below = new HostName(node.name, Reach.BELOW);
      inside.add(below);
      ofRest = categories.getOrDefault(below, category);
    }
    double rest = node.weightBelow();
    for (Node child : node.below.values()) {
      rest -= child.weightBelow() + 1;
      collect(child, inside, ofRest, cells);
    }
    cells.add(new Cell(node, true, inside, ofRest, Math.max(1, rest)));
  }

  /** A name below a node that is below none of its children. */
  private static String unlisted(Node node) {
    String label = node.name.isEmpty() ? "elsewhere" : "www";
    while (node.below.containsKey(label)) {
      label = "x" + label;
    }
    return node.name.isEmpty() ? "www." + label : label + "." + node.name;
  }

  /** The atoms of a value that was given to the constructor, or of "no host named". */
  IndexSet atoms(Value value) {
    return Signatures.set(atomsOfValue.get(value));
  }

  /**
   * A set of atoms as names: {@code shop.example}, {@code *.shop.example} with the names below it
   * that are not meant, {@code nameless}. What its parts stand for is exact; names that are neither
   * asked for nor listed are told by what they are not.
   */
  List<Piece> spelled(IndexSet some) {
    List<Piece> pieces = new ArrayList<>();
    spell(root, some, pieces);
    if (some.contains(nameless)) {
      pieces.add(new Piece(ValueText.print(Value.Nameless.HOST), IndexSet.of(nameless)));
    }
    return pieces;
  }

  private void spell(Node node, IndexSet some, List<Piece> pieces) {
    if (!node.name.isEmpty() && some.contains(node.atomOfName)) {
      pieces.add(new Piece(node.name, IndexSet.of(node.atomOfName)));
    }
    if (!some.contains(node.atomOfRest)) {
      node.below.values().forEach(child -> spell(child, some, pieces));
      return;
    }
    List<String> not = new ArrayList<>();
    List<Piece> inside = new ArrayList<>();
    IndexSet atoms = IndexSet.of(node.atomOfRest);
    for (Node child : node.below.values()) {
      atoms = atoms.union(except(child, some, not, inside));
    }
    String all = node.name.isEmpty() ? "any host name" : "*." + node.name;
    pieces.add(new Piece(not.isEmpty() ? all : all + " but not " + String.join(", ", not), atoms));
    pieces.addAll(inside);
  }

  /** What of a node below a name that is meant is meant too; the names that are not are noted. */
  private IndexSet except(Node node, IndexSet some, List<String> not, List<Piece> inside) {
    IndexSet atoms = IndexSet.EMPTY;
    if (some.contains(node.atomOfName)) {
      atoms = atoms.union(IndexSet.of(node.atomOfName));
    } else {
      not.add(node.name);
    }
    if (some.contains(node.atomOfRest)) {
      atoms = atoms.union(IndexSet.of(node.atomOfRest));
      for (Node child : node.below.values()) {
        atoms = atoms.union(except(child, some, not, inside));
      }
    } else {
      not.add("*." + node.name);
      node.below.values().forEach(child -> spell(child, some, inside));
    }
    return atoms;
  }

  int atom(Optional<String> host) {
    if (host.isEmpty()) {
      return nameless;
    }
    Node node = root;
    String[] labels = host.get().split("\\.");
    for (int i = labels.length - 1; i >= 0; i--) {
      Node next = node.below.get(labels[i]);
      if (next == null) {
        return node.atomOfRest;
      }
      node = next;
    }
    return node.atomOfName;
  }

  Optional<String> sample(int atom) {
    return samples.get(atom);
  }

  Weights weights() {
    return weights;
  }
}
