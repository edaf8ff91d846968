"""The report of a lab book as one tree of blocks, for all that write it down: screen, page, word processor.

`build_report` goes over the parts in the order that the bench has given them (`outline`) and makes the blocks of each: own words
(`own_text`, with live values from `live_values`), readings as written (`readings`), graphs, cards and findings (`results`), and the
appendix (`appendix`). What is still missing is listed by `missing`, and what is another than in an earlier report by `changes`.
See decision 42. Imports from `presentation` and below, never from `questions`.
"""
