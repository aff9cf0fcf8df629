package ironsieve.files;

import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonMappingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.exc.InvalidTypeIdException;
import com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException;
import ironsieve.text.FileTextException;
import ironsieve.text.SourceText;
import java.util.Arrays;
import java.util.List;
import java.util.stream.Collectors;

/**
 * Reads documents from JSON (RFC 8259), and says what is wrong without a word of the parser's own.
 */
public final class JsonText {

  private JsonText() {}

  /**
   * A document from JSON text.
   *
   * @param file what to call it in messages
   * @throws FaultException with line and column
   */
  public static <T> T read(ObjectMapper mapper, String file, String text, Class<T> type) {
    try {
      T read = mapper.readValue(SourceText.checked(text), type);
      if (read == null) {
        throw new FaultException(file, "", "expected an object in braces, not null");
      }
      return read;
    } catch (FileTextException e) {
      throw new FaultException(file, "", e.getMessage());
    } catch (JsonProcessingException e) {
      throw new FaultException(file + place(e.getLocation()), path(e), words(e));
    }
  }

  private static String place(JsonLocation at) {
    return at == null
        ? ""
        : ", line " + at.getLineNr() + ", column " + Math.max(1, at.getColumnNr());
  }

  /** The members that lead to what is wrong, such as {@code chapters[0].title}. */
  public static String path(JsonProcessingException e) {
    return e instanceof JsonMappingException mapping
        ? mapping.getPath().stream()
            .map(
                part ->
                    part.getFieldName() == null
                        ? "[" + part.getIndex() + "]"
                        : "." + part.getFieldName())
            .collect(Collectors.joining())
            .replaceFirst("^\\.", "")
        : "";
  }

  /** What is wrong, in words for somebody who has never heard of the parser. */
  public static String words(JsonProcessingException e) {
    if (e instanceof UnrecognizedPropertyException unknown) {
      return "there is no member \""
          + unknown.getPropertyName()
          + "\" here; there are "
          + unknown.getKnownPropertyIds().stream()
              .map(String::valueOf)
              .sorted()
              .collect(Collectors.joining(", "));
    }
    if (e instanceof InvalidTypeIdException unknown) {
      String kinds = String.join(", ", kinds(unknown));
      return unknown.getTypeId() == null
          ? "it is not said which of these this is: " + kinds
          : "\"" + unknown.getTypeId() + "\" is none of " + kinds;
    }
    String message = e.getOriginalMessage();
    if (message.startsWith("Duplicate field")) {
      return message.replace("Duplicate field", "the member") + " stands here twice";
    }
    if (message.contains("end-of-input")) {
      return "this ends too early (end-of-input); a bracket, brace or quote is not closed";
    }
    if (e instanceof JsonMappingException) {
      return "this is not the kind of value that is expected here";
    }
    // What the scanner says of a character needs no knowledge of the parser, but for its names.
    return "this is not JSON: "
        + message
            .replaceAll("`?[\\w.$]+\\.[A-Z][\\w$<>.]*`?", "a value")
            .replaceAll("JsonToken\\.|\\(for \\w+ starting at .*?\\)", "")
            .replaceAll("\\s+", " ")
            .trim();
  }

  /** The words there are for what could stand there. */
  private static List<String> kinds(InvalidTypeIdException e) {
    Class<?> family = e.getBaseType().getRawClass();
    JsonSubTypes known = family.getAnnotation(JsonSubTypes.class);
    return known == null
        ? List.copyOf(SealedNames.all(family).keySet())
        : Arrays.stream(known.value()).map(JsonSubTypes.Type::name).sorted().toList();
  }
}
