"""From numbers to what people read: columns, graphs, line cards, findings, the stations of the trail."""
