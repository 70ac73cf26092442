"""The specimen page: the chart laid out like a type specimen, to be made and changed."""
