package dev.dusky.testkit;

import dev.dusky.core.json.JsonStrings;
import dev.dusky.core.type.NestedForm;
import dev.dusky.core.type.NestedForm.Part;
import dev.dusky.core.type.SqlType;
import java.math.BigDecimal;
import java.nio.ByteBuffer;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.UUID;

/** Random forms of nested values, and random values of a form. */
public final class RandomNested {

  private static final List<String> SCALARS =
      List.of(
          "boolean",
          "smallint",
          "integer",
          "bigint",
          "decimal(9,2)",
          "decimal(38,3)",
          "real",
          "double precision",
          "varchar(6)",
          "text",
          "date",
          "time",
          "timestamp",
          "timestamp with time zone",
          "uuid",
          "json",
          "varbinary(4)");

  private static final List<String> TEXTS =
      List.of("", "a", "caf\u00e9", "\"q\"", "a\\b", "\u4e2d\u6587", "x y\n", "\ud83d\udc04");

  private final Random random;

  /**
   * A value.
   *
   * @param json as a file has it
   * @param read as {@link dev.dusky.core.nested.NestedReader} gives it
   */
  public record Value(String json, Object read) {}

  public RandomNested(Random random) {
    this.random = random;
  }

  /** A type that is nested at most that deep, at least once. */
  public SqlType type(int depth) {
    return switch (random.nextInt(4)) {
      case 0 -> SqlType.nested(new NestedForm.Items(part(depth - 1)));
      case 1 -> SqlType.nested(new NestedForm.Entries(part(depth - 1)));
      default -> SqlType.nested(members(depth));
    };
  }

  private NestedForm members(int depth) {
    List<NestedForm.Member> members = new ArrayList<>();
    for (int i = random.nextInt(4); i >= 0; i--) {
      String name = random.nextInt(4) == 0 ? "With blank " + i : "m" + i;
      members.add(new NestedForm.Member(name, part(depth - 1)));
    }
    return new NestedForm.Members(members, random.nextBoolean());
  }

  private Part part(int depth) {
    boolean deeper = depth > 0 && random.nextInt(3) == 0;
    SqlType type =
        deeper
            ? type(depth)
            : SqlType.parse(SCALARS.get(random.nextInt(SCALARS.size()))).orElseThrow();
    return new Part(type, random.nextInt(5) == 0);
  }

  /** A value of a type. */
  public Value value(SqlType type) {
    if (!type.isNested()) {
      return scalar(type);
    }
    NestedForm form = type.form().orElseThrow();
    if (form instanceof NestedForm.Items items) {
      List<String> texts = new ArrayList<>();
      List<Object> values = new ArrayList<>();
      for (int i = random.nextInt(4); i > 0; i--) {
        Value element = maybe(items.element());
        texts.add(element.json());
        values.add(element.read());
      }
      return new Value("[" + String.join(blank() + ",", texts) + blank() + "]", values);
    }
    if (form instanceof NestedForm.Entries entries) {
      Map<String, Object> values = new TreeMap<>();
      List<String> texts = new ArrayList<>();
      for (int i = random.nextInt(4); i > 0; i--) {
        String key = TEXTS.get(random.nextInt(TEXTS.size())) + i;
        Value value = maybe(entries.value());
        texts.add(JsonStrings.quoted(key) + ":" + value.json());
        values.put(key, value.read());
      }
      return object(texts, values);
    }
    return object((NestedForm.Members) form);
  }

  private Value object(NestedForm.Members form) {
    List<String> texts = new ArrayList<>();
    Map<String, Object> values = new LinkedHashMap<>();
    for (NestedForm.Member member : form.members()) {
      Value value = maybe(member.part());
      if (value.read() != null || random.nextBoolean()) {
        texts.add(JsonStrings.quoted(member.name()) + ":" + value.json());
      }
      values.put(member.name(), value.read());
    }
    if (form.open() && random.nextBoolean()) {
      texts.add("\"other\":[{},1]");
    }
    Collections.shuffle(texts, random);
    return object(texts, values);
  }

  private Value object(List<String> texts, Map<String, Object> values) {
    return new Value("{" + blank() + String.join("," + blank(), texts) + "}", values);
  }

  private Value maybe(Part part) {
    return !part.notNull() && random.nextInt(4) == 0 ? new Value("null", null) : value(part.type());
  }

  private String blank() {
    return random.nextInt(3) == 0 ? " \n" : "";
  }

  private Value scalar(SqlType type) {
    return switch (type.kind()) {
      case BOOLEAN -> bare(random.nextBoolean());
      case SMALLINT -> bare((int) (short) random.nextInt());
      case INTEGER -> bare(random.nextInt());
      case BIGINT -> bare(random.nextLong());
      case DECIMAL ->
          type.precision() > 18
              ? bare(new BigDecimal("12345678901234567890123456789012345.678"))
              : bare(BigDecimal.valueOf(random.nextInt(1_000_000_000), type.scale()));
      case REAL -> bare(random.nextInt(1000) / 4f);
      case DOUBLE -> bare(random.nextDouble());
      case VARCHAR, TEXT, CHAR -> {
        String text = TEXTS.get(random.nextInt(TEXTS.size()));
        yield new Value(JsonStrings.quoted(text), text);
      }
      case DATE -> quoted(LocalDate.ofEpochDay(random.nextInt(40_000)));
      case TIME -> {
        LocalTime time = LocalTime.ofNanoOfDay(random.nextInt(86_400) * 1_000_000_000L + 1000);
        yield quoted(time);
      }
      case TIMESTAMP -> {
        LocalDateTime moment = LocalDateTime.ofEpochSecond(random.nextInt(), 7000, ZoneOffset.UTC);
        yield quoted(moment);
      }
      case TIMESTAMP_TZ -> {
        LocalDateTime moment = LocalDateTime.ofEpochSecond(random.nextInt(), 0, ZoneOffset.UTC);
        yield quoted(moment.atOffset(ZoneOffset.UTC));
      }
      case UUID -> quoted(new UUID(random.nextLong(), random.nextLong()));
      case JSON -> new Value("{\"a\":[1, 2]}", "{\"a\":[1, 2]}");
      case BINARY -> {
        byte[] bytes = new byte[random.nextInt(5)];
        random.nextBytes(bytes);
        yield new Value("\"" + HexFormat.of().formatHex(bytes) + "\"", ByteBuffer.wrap(bytes));
      }
    };
  }

  private static Value bare(Object value) {
    return new Value(value.toString(), value);
  }

  private static Value quoted(Object value) {
    return new Value("\"" + value + "\"", value);
  }
}
