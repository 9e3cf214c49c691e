from django.urls import path

from ridgeback.library import views

app_name = "library"
urlpatterns = [
    path("library/", views.library_list, name="list"),
    path("library/compare/", views.compare, name="compare"),
    path("library/own/import/", views.import_own, name="import"),
    path("library/<slug:slug>/", views.species, name="page"),
    path("library/<slug:slug>/edit/", views.edit, name="edit"),
    path("library/<slug:slug>/revert/", views.revert, name="revert"),
    path("library/<slug:slug>/own.json", views.export_own, name="export"),
]
