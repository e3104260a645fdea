/** Whether ledger, tables and depots agree. */
package dev.dusky.core.balance;
