package ironsieve.compile;

import ironsieve.model.Service;
import ironsieve.model.Value.ServiceRange;
import ironsieve.region.IndexSet;
import ironsieve.region.Range;
import ironsieve.region.RangeSet;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.List;
import java.util.TreeSet;

/**
 * The atoms of services: runs of the service line that no value of the rulebase tells apart.
 * Protocols without ports or types are one point each.
 */
final class ServiceAxis {

  private final int[] starts;
  private final int[] atomOf;
  private final List<Service> samples = new ArrayList<>();
  private final double[] weights;

  ServiceAxis(Collection<ServiceRange> used) {
    RangeSet<Integer> real = realPoints();
    TreeSet<Integer> cuts = new TreeSet<>();
    real.ranges().forEach(run -> cut(cuts, run.low(), run.high()));
    // The protocols with their own ports stay apart, so that an ICMP atom is never a TCP one too.
    Service.PROTOCOLS.values().forEach(p -> cut(cuts, p << 16, p << 16 | 0xFFFF));
    used.forEach(range -> cut(cuts, range.low().number(), range.high().number()));
    starts = cuts.stream().mapToInt(Integer::intValue).toArray();
    atomOf = new int[starts.length];
    List<ServiceRange> distinct = used.stream().distinct().toList();
    Signatures atoms = new Signatures();
    for (int s = 0; s < starts.length; s++) {
      int low = starts[s];
      int high = s + 1 < starts.length ? starts[s + 1] - 1 : Service.LINE.last();
      double points = real.intersect(run(low, high)).size().doubleValue();
      atomOf[s] = -1;
      if (points > 0) {
        int before = atoms.count();
        atomOf[s] = atoms.atom(List.of(ownProtocol(low), holders(distinct, low)), points);
        if (atomOf[s] == before) {
          samples.add(Service.ofNumber(low));
        }
      }
    }
    weights = atoms.weights();
  }

  private static RangeSet<Integer> realPoints() {
    List<Range<Integer>> runs = new ArrayList<>();
    for (int protocol = 0; protocol < 256; protocol++) {
      int low = protocol << 16;
      runs.add(new Range<>(low, low + Service.lastDetail(protocol)));
    }
    return RangeSet.of(Service.LINE, runs);
  }

  private static RangeSet<Integer> run(int low, int high) {
    return RangeSet.of(Service.LINE, List.of(new Range<>(low, high)));
  }

  private static int ownProtocol(int number) {
    int protocol = number >>> 16;
    return Service.lastDetail(protocol) > 0 ? protocol : -1;
  }

  private static List<Integer> holders(List<ServiceRange> ranges, int number) {
    List<Integer> holders = new ArrayList<>();
    for (int i = 0; i < ranges.size(); i++) {
      if (ranges.get(i).low().number() <= number && number <= ranges.get(i).high().number()) {
        holders.add(i);
      }
    }
    return holders;
  }

  private static void cut(TreeSet<Integer> cuts, int low, int high) {
    cuts.add(low);
    if (high < Service.LINE.last()) {
      cuts.add(high + 1);
    }
  }

  private int segment(int number) {
    int at = Arrays.binarySearch(starts, number);
    return at >= 0 ? at : -at - 2;
  }

  /** The atoms inside a range; one that a range nobody used before cuts counts whole. */
  IndexSet atoms(ServiceRange range) {
    BitSet atoms = new BitSet();
    int last = segment(range.high().number());
    for (int s = segment(range.low().number()); s <= last; s++) {
      if (atomOf[s] >= 0) {
        atoms.set(atomOf[s]);
      }
    }
    return Signatures.set(atoms);
  }

  /** The atoms of a whole protocol that has ports or types of its own. */
  IndexSet protocol(int protocol) {
    return atoms(
        new ServiceRange(
            new Service(protocol, 0), new Service(protocol, Service.lastDetail(protocol))));
  }

  int atom(Service service) {
    return atomOf[segment(service.number())];
  }

  Service sample(int atom) {
    return samples.get(atom);
  }

  double[] weights() {
    return weights;
  }
}
