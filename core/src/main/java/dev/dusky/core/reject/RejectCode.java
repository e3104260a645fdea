package dev.dusky.core.reject;

/** The closed catalogue of reasons why a record is rejected. */
public enum RejectCode {
  /** A quoted field is not closed, or text follows its closing quote. */
  BROKEN_QUOTE,
  /** The record has fewer fields than the feed needs. */
  TOO_FEW_FIELDS,
  /** The record has more fields than expected. */
  TOO_MANY_FIELDS,
  /** The record is larger than the layout's record limit. */
  RECORD_TOO_LARGE,
  /** A member that the feed needs occurs more than once in its object. */
  REPEATED_MEMBER,
  /** An object of a declared form has a member that is not declared. */
  UNKNOWN_MEMBER,
  /** A path gives several values where one is needed. */
  SEVERAL_VALUES,
  /** The record is of a kind that the layout does not name. */
  UNKNOWN_KIND,
  /** The bytes are not text in the declared encoding. */
  BAD_ENCODING,
  /** A column declared not null has no value. */
  NULL_VALUE,
  /** The text is not a number of the column's form. */
  BAD_NUMBER,
  /** The number does not fit the column's type. */
  OUT_OF_RANGE,
  /** The number has more decimals than the column keeps. */
  TOO_MANY_DECIMALS,
  /** The text has more characters than the column holds. */
  TEXT_TOO_LONG,
  /** The text is not a date of the column's form, or no such day exists. */
  BAD_DATE,
  /** The text is not a time of day of the column's form. */
  BAD_TIME,
  /** The text is not a timestamp of the column's form, or no such moment exists. */
  BAD_TIMESTAMP,
  /** The text is neither of the column's words for true and false. */
  BAD_BOOLEAN,
  /** The text is not a UUID. */
  BAD_UUID,
  /** The text is not well-formed JSON. */
  BAD_JSON,
  /** The text is not binary data in the column's notation. */
  BAD_BINARY,
  /** A check of the feed does not hold. */
  FAILED_CHECK,
  /** An expression of the feed has no result for this record, such as a division by zero. */
  FAILED_EXPRESSION,
  /** The table has a row with the same key already. */
  KEY_TAKEN,
  /** The key is not in the table that it refers to. */
  UNKNOWN_KEY,
  /** A check constraint of the table does not hold. */
  FAILED_CONSTRAINT,
  /** The row and one in the table exclude for each other. */
  OVERLAPPING,
  /** The database refuses the row for a reason of its schema, such as a trigger. */
  REFUSED_BY_TABLE,
  /** The database takes the row without an error, but does not keep it. */
  LEFT_OUT,
  /** (Almost) all records fail the same way: the file is not one of this feed. */
  WRONG_FILE;

  /** The code with this label. */
  public static RejectCode of(String label) {
    return valueOf(label.toUpperCase(java.util.Locale.ROOT).replace('-', '_'));
  }

  /** The code as shown and stored: lower case with hyphens. */
  public String label() {
    return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
  }
}
