package dev.dusky.testkit;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import dev.dusky.core.feed.DriftPolicy;
import dev.dusky.core.feed.Feed;
import dev.dusky.core.json.JsonTree;
import dev.dusky.core.layout.JsonLayout;
import dev.dusky.core.nested.NestedFault;
import dev.dusky.core.nested.NestedFit;
import dev.dusky.core.nested.NestedReader;
import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.NestedForm.Member;
import dev.dusky.core.type.NestedForm.Part;
import dev.dusky.core.type.SqlType;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Values of a declared form are read whole and exactly, or one fault says where they differ. */
class NestedReaderTest {

  private final JsonTree tree = new JsonTree();

  private Object read(SqlType type, String json) throws NestedFault {
    byte[] bytes = json.getBytes(StandardCharsets.UTF_8);
    assertTrue(tree.read(bytes, 0, bytes.length), json);
    return NestedReader.of(type).read(tree);
  }

  @Test
  void randomValuesOfRandomFormsAreReadAsTheyWereWritten() throws NestedFault {
    Random random = new Random(41);
    RandomNested nested = new RandomNested(random);
    for (int i = 0; i < 2_000; i++) {
      SqlType type = nested.type(3);
      RandomNested.Value value = nested.value(type);
      assertEquals(value.read(), read(type, value.json()), () -> type + " " + value.json());
    }
  }

  /** An object with a member of each kind of value. */
  private static SqlType cow() {
    Part text = part("varchar(3)", false);
    return SqlType.nested(
        new NestedForm.Members(
            List.of(
                new Member("no", part("integer", true)),
                new Member("name", text),
                new Member(
                    "calves",
                    new Part(SqlType.nested(new NestedForm.Items(part("date", true))), false)),
                new Member("notes", new Part(SqlType.nested(new NestedForm.Entries(text)), false))),
            false));
  }

  private static Part part(String type, boolean notNull) {
    return new Part(SqlType.parse(type).orElseThrow(), notNull);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      quoteCharacter = '`',
      value = {
        "{\"no\":\"x\"}; BAD_NUMBER; x; is not a number of type integer, at no",
        "{\"no\":3000000000}; OUT_OF_RANGE; 3000000000; is out of range for integer, at no",
        "{\"no\":null}; NULL_VALUE; ``; `no value at no, but it is not null`",
        "{}; NULL_VALUE; ``; `no value at no, but it is not null`",
        "{\"no\":1,\"no\":2}; REPEATED_MEMBER; 2; is the second value of no",
        "{\"no\":{}}; BAD_JSON; {}; `is not integer, at no`",
        "{\"no\":1,\"nome\":[1]}; UNKNOWN_MEMBER; [1];"
            + " `is the value of nome, which nested does not declare`",
        "{\"no\":1,\"name\":\"four\"}; TEXT_TOO_LONG; four;"
            + " `has 4 characters, more than varchar(3) holds, at name`",
        "{\"no\":1,\"name\":\"a\\u0000\"}; BAD_ENCODING; `a\0`;"
            + " `is not valid text, or has a NUL character, at name`",
        "{\"no\":1,\"calves\":{}}; BAD_JSON; {}; `is not an array, at calves`",
        "{\"no\":1,\"calves\":[\"2026-01-01\",\"2026-13-01\"]}; BAD_DATE; 2026-13-01;"
            + " `names a day that does not exist, at calves[1]`",
        "{\"no\":1,\"calves\":[null]}; NULL_VALUE; ``;"
            + " `no value at calves[0], but it is not null`",
        "{\"no\":1,\"notes\":[]}; BAD_JSON; []; `is not an object, at notes`",
        "{\"no\":1,\"notes\":{\"a\":1,\"a\":null}}; REPEATED_MEMBER; null;"
            + " is the second value of notes.a",
        "{\"no\":1,\"notes\":{\"a\":\"long\"}}; TEXT_TOO_LONG; long;"
            + " `has 4 characters, more than varchar(3) holds, at notes.a`",
        "[]; BAD_JSON; []; is not an object",
        "1; BAD_JSON; 1; is not an object"
      })
  void aFaultSaysWhatIsWrongAndWhere(String json, RejectCode code, String value, String message) {
    NestedFault fault = assertThrows(NestedFault.class, () -> read(cow(), json));
    assertEquals(code, fault.code());
    assertEquals(value.replace("\\0", "\0"), fault.value());
    assertEquals(message, fault.getMessage());
  }

  @Test
  void aNullIsNoValue() throws NestedFault {
    assertEquals(null, read(cow(), " null"));
  }

  /** Changes a type in one place so that it holds less. */
  private static Stream<SqlType> narrower(SqlType type) {
    if (!type.isNested()) {
      return Stream.empty();
    }
    NestedForm form = type.form().orElseThrow();
    if (form instanceof NestedForm.Items items) {
      return parts(items.element()).map(NestedForm.Items::new).map(SqlType::nested);
    }
    if (form instanceof NestedForm.Entries entries) {
      return parts(entries.value()).map(NestedForm.Entries::new).map(SqlType::nested);
    }
    List<Member> members = ((NestedForm.Members) form).members();
    List<SqlType> all = new ArrayList<>();
    for (int i = 0; i < members.size(); i++) {
      int at = i;
      if (members.size() > 1) {
        List<Member> fewer = new ArrayList<>(members);
        fewer.remove(at);
        all.add(SqlType.nested(new NestedForm.Members(fewer, false)));
      }
      parts(members.get(at).part())
          .forEach(
              part -> {
                List<Member> changed = new ArrayList<>(members);
                changed.set(at, new Member(members.get(at).name(), part));
                all.add(SqlType.nested(new NestedForm.Members(changed, false)));
              });
    }
    return all.stream();
  }

  private static Stream<Part> parts(Part part) {
    Stream<Part> needed = part.notNull() ? Stream.empty() : Stream.of(new Part(part.type(), true));
    return Stream.concat(needed, narrower(part.type()).map(type -> new Part(type, part.notNull())));
  }

  @Test
  void aTypeHoldsItselfAndWhatIsNarrowerButNothingWider() {
    RandomNested nested = new RandomNested(new Random(42));
    int compared = 0;
    for (int i = 0; i < 500; i++) {
      SqlType type = nested.type(3);
      assertTrue(type.holds(type), type::toString);
      for (SqlType less : narrower(type).toList()) {
        boolean missing = size(less) < size(type) && isNeeded(type, less);
        assertEquals(!missing, type.holds(less), () -> type + " of " + less);
        assertFalse(less.holds(type), () -> less + " of " + type);
        assertEquals(missing, NestedFit.problem("c", type, less).isPresent());
        String problem = NestedFit.problem("c", less, type).orElseThrow();
        assertTrue(problem.startsWith("c"), problem);
        compared++;
      }
    }
    assertTrue(compared > 1_000, "compared " + compared);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "no; c.no is not null in the table, and may be null in the feed",
        "name; c.name is varchar(3) in the table, which does not hold every text of the feed",
        "calves; c.calves[] is date in the table, which does not hold every text of the feed",
        "notes; c.notes.* is varchar(3) in the table, which does not hold every text of the feed",
        "born; 'c.born, which is text in the feed, does not exist in the table'",
      })
  void aMisfitIsNamedByItsPlace(String changed, String problem) {
    NestedForm.Members table = (NestedForm.Members) cow().form().orElseThrow();
    Part text = part("text", false);
    Part other =
        switch (changed) {
          case "calves" ->
              new Part(SqlType.nested(new NestedForm.Items(part("text", true))), false);
          case "notes" -> new Part(SqlType.nested(new NestedForm.Entries(text)), false);
          case "no" -> part("integer", false);
          default -> text;
        };
    List<Member> members = new ArrayList<>(table.members());
    members.removeIf(m -> m.name().equals(changed));
    members.add(new Member(changed, other));
    SqlType feed = SqlType.nested(new NestedForm.Members(members, false));
    assertEquals(problem, NestedFit.problem("c", cow(), feed).orElseThrow());
    members.remove(members.size() - 1);
    if (changed.equals("no")) {
      assertEquals(
          "c.no of the table is not null, and the feed does not fill it",
          NestedFit.problem("c", cow(), SqlType.nested(new NestedForm.Members(members, true)))
              .orElseThrow());
    }
  }

  /** A part of a value that does not fit makes the whole value a leftover. */
  @Test
  void aValueOfAnotherFormIsCapturedWhole() {
    Feed feed =
        new FeedBuilder("cow")
            .layout(JsonLayout.plain("lines"))
            .column("no", "bigint")
            .column("s", cow())
            .drift(DriftPolicy.of(DriftPolicy.Fields.CAPTURE))
            .build();
    MemoryDepot depot =
        new MemoryDepot()
            .with(
                "a.json",
                "{\"no\":1,\"s\":{\"no\":1}}\n{\"no\":2,\"s\":{\"no\":1,\"name\":\"long\"}}\n");
    Loading loading = new Loading(feed, depot, Loading.Mode.ONE_BY_ONE);
    assertEquals(2, loading.run().tally().loaded());
    List<Map<String, String>> rows =
        loading.warehouse.tables().rows(feed.into()).stream().map(MemoryRow::values).toList();
    assertEquals("{\"no\":1}", rows.get(0).get("s"));
    assertEquals(null, rows.get(1).get("s"));
    assertEquals("{\"s\":{\"no\":1,\"name\":\"long\"}}", rows.get(1).get("leftovers"));
  }

  /** How many values are declared in a type. */
  private static long size(SqlType type) {
    return type.form()
        .map(form -> 1 + form.parts().mapToLong(part -> size(part.type())).sum())
        .orElse(1L);
  }

  /** Whether the member that the other type lacks must not be null. */
  private static boolean isNeeded(SqlType type, SqlType less) {
    if (!type.isNested() || !less.isNested()) {
      return false;
    }
    NestedForm form = type.form().orElseThrow();
    NestedForm other = less.form().orElseThrow();
    if (form instanceof NestedForm.Members all && other instanceof NestedForm.Members fewer) {
      return all.members().stream()
          .anyMatch(
              m ->
                  fewer
                      .member(m.name())
                      .map(part -> isNeeded(m.part().type(), part.type()))
                      .orElse(m.part().notNull()));
    }
    List<Part> mine = form.parts().toList();
    List<Part> its = other.parts().toList();
    return isNeeded(mine.get(0).type(), its.get(0).type());
  }
}
