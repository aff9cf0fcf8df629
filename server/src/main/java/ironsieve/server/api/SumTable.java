package ironsieve.server.api;

import ironsieve.files.CsvCells;
import ironsieve.traffic.view.TrafficView.Bar;
import java.util.List;

/** Sums of traffic as a table for other programs. */
final class SumTable {

  private SumTable() {}

  /** A line of CSV for each value, below the names of the columns. */
  static String csv(String by, List<Bar> bars) {
    StringBuilder csv = new StringBuilder(quoted(by) + ",connections,bytes up,bytes down\r\n");
    for (Bar bar : bars) {
      csv.append(quoted(bar.value()))
          .append(',')
          .append(bar.sum().times())
          .append(',')
          .append(bar.sum().up())
          .append(',')
          .append(bar.sum().down())
          .append("\r\n");
    }
    return csv.toString();
  }

  private static String quoted(String cell) {
    return "\"" + CsvCells.format(cell).replace("\"", "\"\"") + "\"";
  }
}
