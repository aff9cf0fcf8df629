package ironsieve.review;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class WordsTest {

  @ParameterizedTest
  @CsvSource({
    "0, 0 %",
    "1e-15, under 0.1 %",
    "0.0005, under 0.1 %",
    "0.001, 0.1 %",
    "0.0625, 6.3 %",
    "0.5, 50 %",
    "0.999, 99.9 %",
    "0.9999999999999999, over 99.9 %",
    "1, 100 %"
  })
  void aShareReadsAlikeHoweverItWasSummedUp(double value, String words) {
    assertThat(Words.percent(new Share(value, Share.Certainty.EXACT))).isEqualTo(words);
    if (value > 1e-9 && value < 0.9999) {
      for (double near : new double[] {Math.nextDown(value), Math.nextUp(value)}) {
        assertThat(Words.percent(Share.exact(near))).isEqualTo(words);
      }
    }
  }
}
