package ironsieve.traffic.signature;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import ironsieve.text.TextException;
import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** A few letters of a signature must not take all memory there is. */
class ExpressionSizeTest {

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "abc;4",
        "a{10};21",
        "(ab){3};16",
        "a|b;4",
        "[^]a-z]{5};11",
        "\\p{L}{5};11",
        "\\x{41}b;3",
        "a{,3};6",
        "x{2,};7"
      })
  void anUpperBoundIsFoundWithoutCompiling(String expression, long most) {
    assertThat(ExpressionSize.of(expression)).isPositive().isLessThanOrEqualTo(most);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "/abc((((a{1,100}){1,100}){1,100}){1,100})/",
        "/abc(a{1,1000}){1,1000}/",
        "/abc(a{1000}){1000}{1000}/",
        "/abc(((a{50,}){50,}){50,})/"
      })
  void nestedRepetitionsAreRefusedBeforeTheyAreWrittenOut(String expression) {
    assertThatThrownBy(() -> SignatureText.parse("App", true, "path matches " + expression))
        .isInstanceOf(TextException.class)
        .hasMessageContaining("steps long once its repetitions are written out");
  }

  @Test
  void bracketsCannotBeTooDeep() {
    String deep = "(".repeat(1_500) + "abc" + ")".repeat(1_500);
    assertThatThrownBy(() -> SignatureText.parse("App", true, "path matches /" + deep + "/"))
        .isInstanceOf(TextException.class)
        .hasMessageContaining("brackets deep");
  }

  @Test
  void manySignaturesTogetherHaveALimitAndTheOthersAreUsed() {
    List<String> texts = Collections.nCopies(300, "path matches /abc(a{1,100}){1,20}/");
    SignatureBook book =
        new SignatureBook(
            List.of(
                new SignatureBook.Written("First", false, List.of(), List.of(), texts),
                new SignatureBook.Written(
                    "Last", true, List.of(), List.of(), List.of("path matches /abcdef/"))));
    long each = ExpressionSize.of("abc(a{1,100}){1,20}");
    assertThat(book.signatures()).hasSize((int) (ExpressionSize.MOST_IN_SUM / each) + 1);
    assertThat(book.signatures().get(book.signatures().size() - 1).application()).isEqualTo("Last");
    assertThat(book.problems())
        .hasSize(301 - book.signatures().size())
        .allMatch(problem -> problem.message().contains("all signatures together"));
  }
}
