from django.urls import path

from ridgeback.species_guide import views

app_name = "species_guide"
urlpatterns = [
    path("species/", views.species_list, name="list"),
    path("species/compare/", views.compare, name="compare"),
    path("species/own/import/", views.import_own, name="import"),
    path("species/<slug:slug>/", views.species, name="page"),
    path("species/<slug:slug>/buying/", views.buying, name="buying"),
    path("species/<slug:slug>/edit/", views.edit, name="edit"),
    path("species/<slug:slug>/revert/", views.revert, name="revert"),
    path("species/<slug:slug>/own.json", views.export_own, name="export"),
]
