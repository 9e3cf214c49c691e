from django.urls import path

from ridgeback.papers import views

app_name = "papers"
urlpatterns = [
    path("household/notes/", views.notes, name="notes"),
    path("household/sheet/", views.sheet, name="sheet"),
    path("household/labels/", views.labels, name="labels"),
    path("animals/<int:pk>/summary/", views.summary, name="summary"),
    path("animals/<int:pk>/care-sheet/", views.care, name="care-sheet"),
    path("animals/<int:pk>/transfer/", views.transfer, name="transfer"),
    path("household/emergency/", views.card, name="card"),
]
