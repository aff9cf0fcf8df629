package ironsieve.traffic.signature;

import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.Deque;
import java.util.function.IntConsumer;

/**
 * Rows of bytes, each with numbers, found all at once: those a text begins or ends with by walking
 * down, those it holds anywhere by the automaton of Aho and Corasick (1975).
 */
final class ByteTrie {

  private static final int[] NONE = {};

  /** A place on the way down. */
  private static final class Node {
    private byte[] labels = new byte[0];
    private Node[] children = new Node[0];
    private int[] numbers = NONE;
    private Node fail;

    /** The nearest place on the way of fails that has numbers. */
    private Node told;

    private Node child(byte label) {
      int at = labels.length < 8 ? find(label) : Arrays.binarySearch(labels, label);
      return at < 0 ? null : children[at];
    }

    private int find(byte label) {
      for (int i = 0; i < labels.length; i++) {
        if (labels[i] == label) {
          return i;
        }
      }
      return -1;
    }

    private Node grow(byte label) {
      int at = Arrays.binarySearch(labels, label);
      if (at >= 0) {
        return children[at];
      }
      int place = -at - 1;
      byte[] wider = new byte[labels.length + 1];
      Node[] more = new Node[children.length + 1];
      System.arraycopy(labels, 0, wider, 0, place);
      System.arraycopy(children, 0, more, 0, place);
      wider[place] = label;
      more[place] = new Node();
      System.arraycopy(labels, place, wider, place + 1, labels.length - place);
      System.arraycopy(children, place, more, place + 1, children.length - place);
      labels = wider;
      children = more;
      return more[place];
    }
  }

  private final Node root = new Node();
  private final Node[] first = new Node[256];
  private boolean isLinked;

  boolean isEmpty() {
    return root.children.length == 0;
  }

  void add(byte[] row, int number) {
    Node node = root;
    for (byte label : row) {
      node = node.grow(label);
    }
    add(node, number);
  }

  void addReversed(byte[] row, int number) {
    Node node = root;
    for (int i = row.length - 1; i >= 0; i--) {
      node = node.grow(row[i]);
    }
    add(node, number);
  }

  private static void add(Node node, int number) {
    node.numbers = Arrays.copyOf(node.numbers, node.numbers.length + 1);
    node.numbers[node.numbers.length - 1] = number;
  }

  /** The numbers of all rows that a text begins with. */
  void starts(byte[] text, IntConsumer found) {
    Node node = root;
    for (byte label : text) {
      node = node.child(label);
      if (node == null) {
        return;
      }
      tell(node, found);
    }
  }

  /** The numbers of all rows that a text ends with; of rows that were added reversed. */
  void ends(byte[] text, IntConsumer found) {
    Node node = root;
    for (int i = text.length - 1; i >= 0; i--) {
      node = node.child(text[i]);
      if (node == null) {
        return;
      }
      tell(node, found);
    }
  }

  /** The number of the row that is the text itself. */
  void is(byte[] text, IntConsumer found) {
    Node node = root;
    for (byte label : text) {
      node = node.child(label);
      if (node == null) {
        return;
      }
    }
    tell(node, found);
  }

  private static void tell(Node node, IntConsumer found) {
    for (int number : node.numbers) {
      found.accept(number);
    }
  }

  /** Makes it ready for {@link #holds}; once everything is in it. */
  void link() {
    Deque<Node> row = new ArrayDeque<>();
    for (int i = 0; i < root.children.length; i++) {
      first[root.labels[i] & 0xFF] = root.children[i];
      root.children[i].fail = root;
      row.add(root.children[i]);
    }
    while (!row.isEmpty()) {
      Node node = row.poll();
      node.told = node.numbers.length > 0 ? node : node.fail.told;
      for (int i = 0; i < node.children.length; i++) {
        Node child = node.children[i];
        Node fail = node.fail;
        while (fail != root && fail.child(node.labels[i]) == null) {
          fail = fail.fail;
        }
        Node next = fail.child(node.labels[i]);
        child.fail = next == null ? root : next;
        row.add(child);
      }
    }
    isLinked = true;
  }

  /** The numbers of all rows that lie somewhere in a text, some of them several times. */
  void holds(byte[] text, IntConsumer found) {
    if (!isLinked) {
      throw new IllegalStateException("link() comes first");
    }
    Node node = root;
    for (byte label : text) {
      Node next = node == root ? first[label & 0xFF] : node.child(label);
      while (next == null && node != root) {
        node = node.fail;
        next = node == root ? first[label & 0xFF] : node.child(label);
      }
      node = next == null ? root : next;
      for (Node told = node.told; told != null; told = told.fail.told) {
        tell(told, found);
      }
    }
  }
}
