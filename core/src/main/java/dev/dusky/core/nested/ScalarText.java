package dev.dusky.core.nested;

import dev.dusky.core.reject.RejectCode;
import dev.dusky.core.type.BinaryText;
import dev.dusky.core.type.BooleanText;
import dev.dusky.core.type.DecimalText;
import dev.dusky.core.type.FloatText;
import dev.dusky.core.type.IntegerText;
import dev.dusky.core.type.SqlType;
import dev.dusky.core.type.TemporalText;
import dev.dusky.core.type.TypeKind;
import dev.dusky.core.type.Utf8;
import dev.dusky.core.type.UuidText;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.UUID;

/** Reads single values of a type from their text, as columns of that type do. */
abstract class ScalarText {

  /** The value, as an object of the class that JDBC uses for the type. */
  abstract Object read(byte[] text) throws NestedFault;

  /** Reads values of a type; those of json are taken as they are. */
  static ScalarText of(SqlType type) {
    return switch (type.kind()) {
      case SMALLINT, INTEGER, BIGINT -> new Whole(type);
      case DECIMAL -> new Decimal(type);
      case REAL, DOUBLE -> new Floating(type);
      case CHAR, VARCHAR, TEXT, JSON -> new Text(type);
      case BINARY -> new Binary(type);
      case DATE, TIME, TIMESTAMP, TIMESTAMP_TZ -> new Temporal(type);
      case BOOLEAN -> new Truth();
      case UUID -> new Uuid();
    };
  }

  /** The fault of a value. */
  static NestedFault fault(RejectCode code, byte[] text, String rest) {
    return new NestedFault(code, new String(text, StandardCharsets.UTF_8), rest);
  }

  private static NestedFault number(RejectCode code, byte[] text, SqlType type) {
    return fault(
        code,
        text,
        switch (code) {
          case OUT_OF_RANGE -> "is out of range for " + type;
          case TOO_MANY_DECIMALS -> "has more decimals than " + type;
          default -> "is not a number of type " + type;
        });
  }

  private static final class Whole extends ScalarText {
    private final SqlType type;
    private final IntegerText text;

    Whole(SqlType type) {
      this.type = type;
      this.text = new IntegerText(type.kind());
    }

    @Override
    Object read(byte[] b) throws NestedFault {
      long value = text.parse(b, 0, b.length);
      if (text.failure() != null) {
        throw number(text.failure(), b, type);
      }
      return type.kind() == TypeKind.BIGINT ? (Object) value : (Object) (int) value;
    }
  }

  private static final class Decimal extends ScalarText {
    private final SqlType type;
    private final DecimalText text;

    Decimal(SqlType type) {
      this.type = type;
      this.text = new DecimalText(type.precision(), type.scale());
    }

    @Override
    Object read(byte[] b) throws NestedFault {
      long value = text.parse(b, 0, b.length);
      if (text.failure() != null) {
        throw number(text.failure(), b, type);
      }
      BigInteger unscaled = text.wide() == null ? BigInteger.valueOf(value) : text.wide();
      return new BigDecimal(unscaled, type.scale());
    }
  }

  private static final class Floating extends ScalarText {
    private final SqlType type;
    private final FloatText text;

    Floating(SqlType type) {
      this.type = type;
      this.text = new FloatText(type.kind() == TypeKind.REAL);
    }

    @Override
    Object read(byte[] b) throws NestedFault {
      double value = text.parse(b, 0, b.length);
      if (text.failure() != null) {
        throw number(text.failure(), b, type);
      }
      return type.kind() == TypeKind.REAL ? (Object) (float) value : (Object) value;
    }
  }

  private static final class Text extends ScalarText {
    private final SqlType type;

    Text(SqlType type) {
      this.type = type;
    }

    @Override
    Object read(byte[] b) throws NestedFault {
      int end = b.length;
      while (type.kind() == TypeKind.CHAR && end > 0 && b[end - 1] == ' ') {
        end--; // blanks at the end of a char value carry no meaning in SQL
      }
      int length = Utf8.length(b, 0, end);
      if (length < 0) {
        throw fault(RejectCode.BAD_ENCODING, b, "is not valid text, or has a NUL character");
      }
      if (type.length() > 0 && length > type.length()) {
        throw fault(
            RejectCode.TEXT_TOO_LONG,
            b,
            "has %,d characters, more than %s holds".formatted(length, type));
      }
      return new String(b, 0, end, StandardCharsets.UTF_8);
    }
  }

  private static final class Binary extends ScalarText {
    private final SqlType type;
    private final BinaryText text = BinaryText.hex();

    Binary(SqlType type) {
      this.type = type;
    }

    @Override
    Object read(byte[] b) throws NestedFault {
      byte[] value = text.parse(b, 0, b.length);
      if (value == null) {
        throw fault(RejectCode.BAD_BINARY, b, "is not binary data in hex");
      }
      if (type.length() > 0 && value.length > type.length()) {
        throw fault(
            RejectCode.TEXT_TOO_LONG,
            b,
            "has %,d bytes, more than %s holds".formatted(value.length, type));
      }
      return ByteBuffer.wrap(value);
    }
  }

  private static final class Temporal extends ScalarText {
    private final TypeKind kind;
    private final TemporalText text;

    Temporal(SqlType type) {
      this.kind = type.kind();
      this.text = new TemporalText(kind, null, null);
    }

    @Override
    Object read(byte[] b) throws NestedFault {
      long value = text.parse(b, 0, b.length);
      if (text.failure() != null) {
        RejectCode code =
            switch (kind) {
              case DATE -> RejectCode.BAD_DATE;
              case TIME -> RejectCode.BAD_TIME;
              default -> RejectCode.BAD_TIMESTAMP;
            };
        throw fault(code, b, text.failure());
      }
      return switch (kind) {
        case DATE -> LocalDate.ofEpochDay(value);
        case TIME -> LocalTime.ofNanoOfDay(value * 1000);
        case TIMESTAMP -> LocalDateTime.ofInstant(moment(value), ZoneOffset.UTC);
        default -> moment(value).atOffset(ZoneOffset.UTC);
      };
    }

    private static Instant moment(long micros) {
      return Instant.EPOCH.plus(micros, ChronoUnit.MICROS);
    }
  }

  private static final class Truth extends ScalarText {
    private final BooleanText text = BooleanText.common();

    @Override
    Object read(byte[] b) throws NestedFault {
      long value = text.parse(b, 0, b.length);
      if (text.failed()) {
        throw fault(RejectCode.BAD_BOOLEAN, b, "is neither true nor false");
      }
      return value != 0;
    }
  }

  private static final class Uuid extends ScalarText {
    private final UuidText text = new UuidText();

    @Override
    Object read(byte[] b) throws NestedFault {
      if (!text.parse(b, 0, b.length)) {
        throw fault(RejectCode.BAD_UUID, b, "is not a UUID");
      }
      return new UUID(text.high(), text.low());
    }
  }
}
