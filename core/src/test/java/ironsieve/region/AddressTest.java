package ironsieve.region;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.math.BigInteger;
import net.jqwik.api.ForAll;
import net.jqwik.api.Property;
import net.jqwik.api.constraints.IntRange;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class AddressTest {

  @Property
  void everyAddressIsReadBackFromItsText(@ForAll long high, @ForAll long low) {
    Address six = new Address(Address.Version.V6, high, low);
    Address four = Address.v4(low);
    assertThat(Address.parse(six.toString())).isEqualTo(six);
    assertThat(Address.parse(four.toString())).isEqualTo(four);
  }

  @Property
  void aPrefixHoldsTwoToTheHostBitsAddressesAndTheAddressItself(
      @ForAll long high, @ForAll long low, @ForAll @IntRange(max = 128) int prefix) {
    Address address = new Address(Address.Version.V6, high, low);
    Address first = address.lowest(prefix);
    Address last = address.highest(prefix);
    assertThat(new Range<>(first, last).contains(address)).isTrue();
    assertThat(Line.ADDRESSES.count(first, last)).isEqualTo(BigInteger.ONE.shiftLeft(128 - prefix));
  }

  @Test
  void bothVersionsShareOneLineInOrder() {
    Address lastFour = Address.parse("255.255.255.255");
    Address firstSix = Address.parse("::");
    assertThat(Line.ADDRESSES.after(lastFour)).isEqualTo(firstSix);
    assertThat(Line.ADDRESSES.before(firstSix)).isEqualTo(lastFour);
    assertThat(Line.ADDRESSES.after(Address.parse("2001:db8::ffff:ffff:ffff:ffff")))
        .isEqualTo(Address.parse("2001:db8:0:1::"));
    assertThat(Line.ADDRESSES.count(Line.ADDRESSES.first(), Line.ADDRESSES.last()))
        .isEqualTo(BigInteger.ONE.shiftLeft(32).add(BigInteger.ONE.shiftLeft(128)));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "10",
        "10.1.2",
        "10.1.2.256",
        "010.1.2.3",
        "10.1.2.3/24",
        "a.b",
        "1::2::3",
        "10.1.2.*"
      })
  void whatIsNoAddressIsRefusedByName(String text) {
    assertThatThrownBy(() -> Address.parse(text))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining("\"" + text + "\"");
  }
}
