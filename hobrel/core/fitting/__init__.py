"""Through points: lines, extreme lines, polynomials, shapes, residuals, read-offs, rates, tangents, areas. Imports up to formulas."""
