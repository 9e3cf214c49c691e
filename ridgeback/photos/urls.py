from django.urls import path

from ridgeback.photos import views

app_name = "photos"
urlpatterns = [
    path("animals/<int:pk>/photos/", views.photo_list, name="list"),
    path("photos/<int:pk>.jpg", views.photo, name="photo"),
    path("photos/<int:pk>/small.jpg", views.small, name="small"),
    path("photos/<int:pk>/delete/", views.delete, name="delete"),
]
