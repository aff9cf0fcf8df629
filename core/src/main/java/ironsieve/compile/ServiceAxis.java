package ironsieve.compile;

import ironsieve.model.Service;
import ironsieve.model.Value.ServiceRange;
import ironsieve.region.IndexSet;
import ironsieve.region.Weights;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collection;
import java.util.List;
import java.util.stream.IntStream;

/**
 * The atoms of services: runs of the service line that no value of the rulebase tells apart.
 * Protocols without ports or types are one point each.
 */
final class ServiceAxis {

  /**
   * Where each protocol begins, and where its services end. Every protocol stays apart, so that an
   * ICMP atom is never a TCP one too and each run is made either of services that there are or of
   * numbers that stand for none.
   */
  private static final int[] PROTOCOLS =
      IntStream.range(0, 256)
          .map(protocol -> protocol << 16)
          .flatMap(low -> IntStream.of(low, low + Service.lastDetail(low >>> 16) + 1))
          .toArray();

  private final int[] starts;
  private final int[] atomOf;
  private final List<Service> samples = new ArrayList<>();
  private final Weights weights;

  ServiceAxis(Collection<ServiceRange> used) {
    starts =
        IntStream.concat(
                Arrays.stream(PROTOCOLS),
                used.stream()
                    .flatMapToInt(r -> IntStream.of(r.low().number(), r.high().number() + 1)))
            .filter(cut -> cut <= Service.LINE.last())
            .sorted()
            .distinct()
            .toArray();
    atomOf = new int[starts.length];
    List<ServiceRange> distinct = used.stream().distinct().toList();
    Signatures atoms = new Signatures();
    for (int s = 0; s < starts.length; s++) {
      int low = starts[s];
      int high = s + 1 < starts.length ? starts[s + 1] - 1 : Service.LINE.last();
      atomOf[s] = -1;
      if (isReal(low)) {
        int before = atoms.count();
        atomOf[s] = atoms.atom(List.of(ownProtocol(low), holders(distinct, low)), high - low + 1.0);
        if (atomOf[s] == before) {
          samples.add(Service.ofNumber(low));
        }
      }
    }
    weights = atoms.weights();
  }

  private static boolean isReal(int number) {
    return (number & 0xFFFF) <= Service.lastDetail(number >>> 16);
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

  /**
   * The runs of services that some atoms hold.
   *
   * @param also atoms that may lie between two runs and join them
   */
  List<ServiceRange> runs(IndexSet atoms, IndexSet also) {
    List<ServiceRange> runs = new ArrayList<>();
    int low = -1;
    int high = -1;
    for (int s = 0; s < starts.length; s++) {
      int last = s + 1 < starts.length ? starts[s + 1] - 1 : Service.LINE.last();
      boolean held = atomOf[s] >= 0 && atoms.contains(atomOf[s]);
      boolean joins = atomOf[s] >= 0 && also.contains(atomOf[s]);
      boolean same = low >= 0 && low >>> 16 == starts[s] >>> 16;
      if (low >= 0 && !(same && joins)) {
        runs.add(new ServiceRange(Service.ofNumber(low), Service.ofNumber(high)));
        low = -1;
      }
      if (held) {
        low = low < 0 ? starts[s] : low;
        high = last;
      }
    }
    if (low >= 0) {
      runs.add(new ServiceRange(Service.ofNumber(low), Service.ofNumber(high)));
    }
    return runs;
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

  Weights weights() {
    return weights;
  }
}
