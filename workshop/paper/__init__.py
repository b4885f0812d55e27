"""What is printed or cut by: the blank at true size as PDF and SVG, and the job's ticket."""
