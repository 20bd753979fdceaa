// The print button of the review.
document.getElementById("print").addEventListener("click", () => window.print());
