package ironsieve.server.store;

import com.fasterxml.jackson.databind.DeserializationFeature;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.cfg.JsonNodeFeature;

/**
 * How documents are read from and written to the database: what goes in comes out, to the digit.
 */
public final class StoredJson {

  private StoredJson() {}

  /** The mapper, set to read numbers as the decimals they are; a double would lose digits. */
  public static ObjectMapper exact(ObjectMapper mapper) {
    mapper
        .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
        .setConfig(
            mapper
                .getDeserializationConfig()
                .without(JsonNodeFeature.STRIP_TRAILING_BIGDECIMAL_ZEROES));
    return mapper;
  }
}
