package dev.dusky.core.type;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadConstraints;
import java.io.IOException;
import java.io.UncheckedIOException;

/** Checks that text is one well-formed JSON value (RFC 8259) of bounded depth. */
public final class JsonText {

  /** The deepest nesting accepted. */
  public static final int MOST_DEPTH = 200;

  private final JsonFactory factory =
      JsonFactory.builder()
          .streamReadConstraints(
              StreamReadConstraints.builder()
                  .maxNestingDepth(MOST_DEPTH)
                  .maxStringLength(Integer.MAX_VALUE)
                  .maxNumberLength(SqlType.MOST_DIGITS * 2)
                  .build())
          .build();

  /** What is wrong with {@code b[start, end)}, or null if nothing is. */
  public String failure(byte[] b, int start, int end) {
    try (JsonParser parser = factory.createParser(b, start, end - start)) {
      if (parser.nextToken() == null) {
        return "it is blank";
      }
      int depth = 0;
      do {
        JsonToken token = parser.currentToken();
        depth += token.isStructStart() ? 1 : token.isStructEnd() ? -1 : 0;
        if (depth == 0) {
          return parser.nextToken() == null ? null : "more follows the value";
        }
      } while (parser.nextToken() != null);
      return "it ends too early";
    } catch (JsonProcessingException e) {
      return e.getOriginalMessage().lines().findFirst().orElse("it is malformed");
    } catch (IOException e) {
      throw new UncheckedIOException("reading from memory cannot fail", e);
    }
  }
}
