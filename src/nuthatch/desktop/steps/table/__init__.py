"""What is drawn on: the plan and what is traced on it, its backing sheet, the card of a length."""
