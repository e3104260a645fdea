package dev.dusky.core.draft;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The outline of a single JSON document with its records somewhere inside: its longest array of
 * objects, and what is beside that.
 */
final class JsonOutline {

  private final Map<String, Integer> objects = new LinkedHashMap<>();
  private final Map<String, Integer> elements = new LinkedHashMap<>();
  private final Set<String> members = new LinkedHashSet<>();
  private int roots;
  private boolean firstIsObject;

  /** Looks at a document or at its beginning. */
  JsonOutline(byte[] head) {
    Deque<String> places = new ArrayDeque<>();
    try (JsonParser parser = JsonFactory.builder().build().createParser(head)) {
      JsonToken token = parser.nextToken();
      while (token != null && isOne()) {
        take(token, parser.currentName(), places);
        token = parser.nextToken();
      }
    } catch (IOException cutOff) {
      // the sample ends in the middle of the document, or it is lines with a broken one
    }
  }

  /** Whether what was seen so far is, or is inside of, one object. */
  private boolean isOne() {
    return roots == 0 || roots == 1 && firstIsObject;
  }

  private void take(JsonToken token, String name, Deque<String> places) {
    if (token.isStructEnd()) {
      places.pop();
      return;
    }
    String parent = places.isEmpty() ? "" : places.peek();
    boolean element = name == null && parent.endsWith("[*]");
    String place = places.isEmpty() ? "$" : element ? parent : parent + PathStatistics.member(name);
    if (element) {
      elements.merge(parent, 1, Integer::sum);
    }
    if (token.isStructStart()) {
      if (places.isEmpty()) {
        roots++;
        firstIsObject |= roots == 1 && token == JsonToken.START_OBJECT;
      }
      if (token == JsonToken.START_OBJECT && element) {
        objects.merge(parent, 1, Integer::sum);
      }
      places.push(token == JsonToken.START_ARRAY ? place + "[*]" : place);
    } else if (token.isScalarValue() && !place.contains("[*]")) {
      members.add(place);
    }
  }

  private static boolean isOuter(String array) {
    return array.indexOf("[*]") == array.length() - 3;
  }

  /** Where the records are, if it is one document with an array of several objects. */
  Optional<String> records() {
    if (roots != 1 || !firstIsObject) {
      return Optional.empty();
    }
    return objects.entrySet().stream()
        .filter(e -> e.getValue() > 1 && isOuter(e.getKey()))
        .max(Map.Entry.comparingByValue())
        .map(Map.Entry::getKey);
  }

  /** The other arrays, with the number of their elements, and the members beside the records. */
  List<String> beside(String records) {
    List<String> beside = new ArrayList<>();
    elements.forEach(
        (array, count) -> {
          if (isOuter(array) && !array.equals(records)) {
            beside.add("%s (%,d)".formatted(array, count));
          }
        });
    beside.addAll(members);
    return beside;
  }
}
