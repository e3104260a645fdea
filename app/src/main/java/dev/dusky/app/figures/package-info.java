/** Numbers, times and tallies in the forms of reports and JSON. */
package dev.dusky.app.figures;
