# figures
