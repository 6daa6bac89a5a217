"""What was taken out of the lists: films, rolls, customers, cars of the glass shelf. Nothing of it is gone."""
