from django.urls import path

from ridgeback.permits import views

app_name = "permits"
urlpatterns = [
    path("animals/<int:pk>/papers/", views.documents, name="list"),
    path("permits/<int:pk>/scan.pdf", views.scan, name="scan"),
    path("permits/<int:pk>/delete/", views.delete, name="delete"),
]
