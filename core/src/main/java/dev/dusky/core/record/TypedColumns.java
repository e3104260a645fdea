package dev.dusky.core.record;

import dev.dusky.core.type.SqlType;
import dev.dusky.core.vector.ColumnVector;
import java.util.List;
import java.util.function.IntFunction;

/**
 * The columns of a batch that came typed from its file.
 *
 * @param types their types in the file
 * @param vectors their values
 * @param raw writes a record as JSON, for the rejects
 */
public record TypedColumns(
    List<SqlType> types, List<ColumnVector> vectors, IntFunction<byte[]> raw) {}
