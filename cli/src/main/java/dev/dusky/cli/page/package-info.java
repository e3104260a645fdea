/** The report as one page of HTML that needs nothing else. */
package dev.dusky.cli.page;
