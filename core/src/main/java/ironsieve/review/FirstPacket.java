package ironsieve.review;

import ironsieve.compile.Dimension;
import ironsieve.compile.Space;
import ironsieve.region.Box;
import ironsieve.region.IndexSet;
import ironsieve.region.Region;
import java.util.ArrayList;
import java.util.List;

/**
 * Of which connections a rule is sure at the first packet: those it claims whatever their host name
 * and application turn out to be. A claim in several boxes (by application, by usual ports) may
 * only be sure by all of them together, so space is cut along each box and the cells are kept in
 * which the boxes leave nothing out.
 */
final class FirstPacket {

  private static final int SITE = Dimension.SITE.ordinal();
  private static final int USING = Dimension.USING.ordinal();
  private static final int MOST_CELLS = 500;

  /**
   * Part of space.
   *
   * @param shows what shows at the first packet
   * @param open what of host names and applications no box has claimed yet
   */
  private record Cell(Box shows, Region open) {}

  private FirstPacket() {}

  /**
   * Disjoint boxes over all host names and applications. Where a claim is in very many pieces some
   * may be missing.
   */
  static List<Box> sure(List<Box> claim, Space space) {
    List<Cell> cells = new ArrayList<>();
    for (Box box : claim) {
      Box shows = anyhow(box, space);
      Region hidden = Region.of(List.of(hidden(box, space)));
      List<Cell> next = new ArrayList<>();
      List<Box> fresh = List.of(shows);
      for (Cell cell : cells) {
        if (!cell.shows().intersects(shows)) {
          next.add(cell);
          continue;
        }
        next.add(new Cell(cell.shows().intersect(shows), cell.open().minus(hidden)));
        cell.shows().minus(shows).forEach(rest -> next.add(new Cell(rest, cell.open())));
        fresh = fresh.stream().flatMap(piece -> piece.minus(cell.shows()).stream()).toList();
      }
      Region left = Region.of(List.of(hidden(shows, space))).minus(hidden);
      fresh.forEach(piece -> next.add(new Cell(piece, left)));
      if (next.size() > MOST_CELLS) {
        break;
      }
      cells = next;
    }
    return cells.stream().filter(cell -> cell.open().isEmpty()).map(Cell::shows).toList();
  }

  private static Box anyhow(Box box, Space space) {
    return box.with(SITE, space.whole(SITE)).with(USING, space.whole(USING));
  }

  /** The host names and applications of a box, whatever shows. */
  private static Box hidden(Box box, Space space) {
    IndexSet[] sides = new IndexSet[box.dimensions()];
    for (int d = 0; d < sides.length; d++) {
      sides[d] = d == SITE || d == USING ? box.side(d) : space.whole(d);
    }
    return Box.of(sides);
  }
}
