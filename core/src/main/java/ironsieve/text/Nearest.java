package ironsieve.text;

import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;

/**
 * Which known names somebody may have meant: those within a third of their letters by edit distance
 * with neighbours swapped (optimal string alignment), or that begin with what was typed.
 */
public final class Nearest {

  private Nearest() {}

  /** The nearest few, the nearest first; O(names × letters²). */
  public static List<String> to(String typed, Collection<String> known, int most) {
    String wanted = typed.toLowerCase(Locale.ROOT);
    if (wanted.isEmpty() || wanted.length() > 200) {
      return List.of();
    }
    record Near(String name, int distance) {}
    return known.stream()
        .map(name -> new Near(name, distance(wanted, name.toLowerCase(Locale.ROOT))))
        .filter(near -> near.distance() <= Math.max(1, Math.min(wanted.length(), 12) / 3))
        .sorted(Comparator.comparing(Near::distance).thenComparing(Near::name))
        .limit(most)
        .map(Near::name)
        .toList();
  }

  private static int distance(String typed, String name) {
    if (name.startsWith(typed) && typed.length() > 1) {
      return 1;
    }
    int[][] steps = new int[typed.length() + 1][name.length() + 1];
    for (int i = 0; i <= typed.length(); i++) {
      for (int j = 0; j <= name.length(); j++) {
        if (i == 0 || j == 0) {
          steps[i][j] = i + j;
          continue;
        }
        int change = typed.charAt(i - 1) == name.charAt(j - 1) ? 0 : 1;
        int least =
            Math.min(steps[i - 1][j - 1] + change, Math.min(steps[i - 1][j], steps[i][j - 1]) + 1);
        boolean swapped =
            i > 1
                && j > 1
                && typed.charAt(i - 1) == name.charAt(j - 2)
                && typed.charAt(i - 2) == name.charAt(j - 1);
        steps[i][j] = swapped ? Math.min(least, steps[i - 2][j - 2] + 1) : least;
      }
    }
    return steps[typed.length()][name.length()];
  }
}
