package ironsieve.region;

import java.math.BigInteger;

/**
 * A discrete, ordered, finite line of points: what a {@link RangeSet} needs to know of its points.
 *
 * @param <P> the points; their natural order is the order of the line
 */
public interface Line<P extends Comparable<P>> {

  /** The first point of the line. */
  P first();

  /** The last point of the line. */
  P last();

  /** The next point. Not asked for the last one. */
  P after(P point);

  /** The point before. Not asked for the first one. */
  P before(P point);

  /** How many points lie in {@code low … high}, both ends included. */
  BigInteger count(P low, P high);

  /** IPv4 and IPv6 on one line, IPv4 first. */
  Line<Address> ADDRESSES =
      new Line<>() {
        @Override
        public Address first() {
          return Address.first(Address.Version.V4);
        }

        @Override
        public Address last() {
          return Address.last(Address.Version.V6);
        }

        @Override
        public Address after(Address point) {
          if (point.equals(Address.last(Address.Version.V4))) {
            return Address.first(Address.Version.V6);
          }
          long low = point.low() + 1;
          return new Address(point.version(), low == 0 ? point.high() + 1 : point.high(), low);
        }

        @Override
        public Address before(Address point) {
          if (point.equals(Address.first(Address.Version.V6))) {
            return Address.last(Address.Version.V4);
          }
          long low = point.low() - 1;
          return new Address(point.version(), low == -1 ? point.high() - 1 : point.high(), low);
        }

        @Override
        public BigInteger count(Address low, Address high) {
          if (low.version() == high.version()) {
            return high.number().subtract(low.number()).add(BigInteger.ONE);
          }
          return count(low, Address.last(low.version()))
              .add(count(Address.first(high.version()), high));
        }
      };

  /** The whole numbers {@code first … last}. */
  static Line<Integer> integers(int first, int last) {
    return new Line<>() {
      @Override
      public Integer first() {
        return first;
      }

      @Override
      public Integer last() {
        return last;
      }

      @Override
      public Integer after(Integer point) {
        return point + 1;
      }

      @Override
      public Integer before(Integer point) {
        return point - 1;
      }

      @Override
      public BigInteger count(Integer low, Integer high) {
        return BigInteger.valueOf((long) high - low + 1);
      }
    };
  }
}
