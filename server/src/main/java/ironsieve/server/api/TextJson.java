package ironsieve.server.api;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.databind.DeserializationContext;
import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.deser.DeserializationProblemHandler;
import com.fasterxml.jackson.databind.deser.std.StdScalarDeserializer;
import com.fasterxml.jackson.databind.exc.MismatchedInputException;
import com.fasterxml.jackson.databind.module.SimpleModule;
import io.quarkus.jackson.ObjectMapperCustomizer;
import ironsieve.files.FaultException;
import ironsieve.server.store.StoredJson;
import ironsieve.text.PlainText;
import jakarta.inject.Singleton;
import java.io.IOException;
import java.util.Locale;
import java.util.Optional;

/**
 * How JSON is read here: strictly. A member that is not known or stands there twice, nesting
 * without end and characters that cannot be kept are refused before anything looks at them.
 */
@Singleton
public class TextJson implements ObjectMapperCustomizer {

  /** Documents here nest less than ten deep. */
  static final int MOST_DEEP = 40;

  /** The longest text is a pasted rulebase. */
  static final int MOST_LETTERS = 16_000_000;

  private static final int MOST_DIGITS = 10_000;

  /**
   * Thrown for text that is too long, or with a character that text may not hold; of a kind that
   * the framework passes on, where it answers all others with nothing but a number.
   */
  static final class RefusedTextException extends MismatchedInputException {
    private static final long serialVersionUID = 1L;

    RefusedTextException(JsonParser parser, String message) {
      super(parser, message, String.class);
    }
  }

  /** Thrown for JSON of the right shape that whatever is made of it refuses, with why. */
  static final class RefusedDocumentException extends MismatchedInputException {
    private static final long serialVersionUID = 1L;

    RefusedDocumentException(JsonParser parser, Class<?> type, FaultException why) {
      super(parser, why.getMessage(), type);
      initCause(why);
    }
  }

  /** The framework answers what its reader does not know with nothing but a number. */
  private static final class Refused extends DeserializationProblemHandler {

    @Override
    public Object handleInstantiationProblem(
        DeserializationContext context, Class<?> type, Object argument, Throwable thrown)
        throws IOException {
      for (Throwable why = thrown; why != null; why = why.getCause()) {
        if (why instanceof FaultException fault) {
          throw new RefusedDocumentException(context.getParser(), type, fault);
        }
      }
      return NOT_HANDLED;
    }
  }

  private static final class Text extends StdScalarDeserializer<String> {
    private static final long serialVersionUID = 1L;

    private Text() {
      super(String.class);
    }

    @Override
    public String deserialize(JsonParser parser, DeserializationContext context)
        throws IOException {
      if (!parser.hasToken(com.fasterxml.jackson.core.JsonToken.VALUE_STRING)) {
        return (String) context.handleUnexpectedToken(String.class, parser);
      }
      String text = parser.getText();
      if (text.length() > MOST_LETTERS) {
        throw new RefusedTextException(
            parser,
            String.format(
                Locale.ROOT,
                "a text has at most %,d letters, and this one has %,d; send it in parts",
                MOST_LETTERS,
                text.length()));
      }
      Optional<PlainText.Forbidden> forbidden = PlainText.forbidden(text);
      if (forbidden.isPresent()) {
        throw new RefusedTextException(
            parser, "in \"" + PlainText.visible(text) + "\" " + forbidden.get().words());
      }
      return text;
    }
  }

  @Override
  public void customize(ObjectMapper mapper) {
    mapper
        .getFactory()
        .setStreamReadConstraints(
            StreamReadConstraints.builder()
                .maxNestingDepth(MOST_DEEP)
                // Bodies are bounded; a longer text is refused below, where it has a name.
                .maxStringLength(Integer.MAX_VALUE)
                .maxNumberLength(MOST_DIGITS)
                .build());
    mapper.enable(JsonParser.Feature.STRICT_DUPLICATE_DETECTION);
    mapper.enable(
        DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES,
        DeserializationFeature.FAIL_ON_TRAILING_TOKENS,
        DeserializationFeature.FAIL_ON_NULL_FOR_PRIMITIVES);
    mapper.registerModule(new SimpleModule("text").addDeserializer(String.class, new Text()));
    mapper.addHandler(new Refused());
    StoredJson.exact(mapper);
  }
}
