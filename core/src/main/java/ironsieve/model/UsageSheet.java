package ironsieve.model;

import java.util.List;

/**
 * Finer verdicts laid under allow rules. The most specific line that fits a connection wins:
 * feature, then application, then family, then category, then {@code otherwise}; among lines of one
 * rank there can be only one that fits.
 *
 * @param name unique in its rulebase
 * @param lines in the order they are written, which does not matter
 * @param otherwise for what no line fits
 * @param note what it is for; may be empty
 */
public record UsageSheet(String name, List<Line> lines, Outcome otherwise, String note) {

  /**
   * One line.
   *
   * @param about a {@link Value.FeatureName}, {@link Value.ApplicationName} (or {@link
   *     Value.ApplicationOver} where an edition reads it), {@link Value.FamilyName} or {@link
   *     Value.CategoryName}; each at most once on a sheet
   */
  public record Line(Value about, Outcome outcome) {

    /** How specific the line is: 3 for a feature, 2 application, 1 family, 0 category. */
    public int rank() {
      if (about instanceof Value.FeatureName) {
        return 3;
      }
      if (about instanceof Value.ApplicationName || about instanceof Value.ApplicationOver) {
        return 2;
      }
      return about instanceof Value.FamilyName ? 1 : 0;
    }
  }

  public UsageSheet {
    lines = List.copyOf(lines);
    for (Line line : lines) {
      if (line.rank() == 0 && !(line.about() instanceof Value.CategoryName)) {
        throw new IllegalArgumentException(
            "a line of a sheet is about a feature, an application, a family or a category");
      }
    }
    if (lines.stream().map(Line::about).distinct().count() < lines.size()) {
      throw new IllegalArgumentException(
          "sheet \"" + name + "\" has two lines about the same thing");
    }
  }
}
